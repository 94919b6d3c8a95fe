import { createHash } from 'node:crypto'
import {
  type AddressProblem,
  checkAddress,
  correctAll,
  readAddressBlock,
  type ReadBlock,
  withAddressAccepted,
  withAddressChecked,
} from '@/core/address'
import { type Address, countryCode, type Order, waitingStates } from '@/core/order'
import { orderRow, ordersById, setCorrection, updateFacts, writeLog } from '@/data'
import { factHash } from '../shared/factHash'
import { refuse, type Answer, type Application } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'

/** A fingerprint of an address as it came from a channel. */
export const addressKey = (address: Address): string =>
  createHash('sha1').update(JSON.stringify(address)).digest('base64')

/** A doubtful order as somebody corrected its address before: with another one, or as it is (null). */
export const correctedAs = (order: Order, correction: Address | null): Order =>
  correction === null ? withAddressAccepted(order) : withCorrection(order, correction)

const addressCodes = ['unknown-country', 'no-street', 'no-city']

/** The order with another address; what was wrong with the old one is forgotten, the new one is checked. */
function withCorrection(order: Order, shipTo: Address): Order {
  const corrected = { ...withAddressAccepted(order), shipTo }
  return withAddressChecked({
    ...corrected,
    problems: corrected.problems.filter(({ code }) => !addressCodes.includes(code)),
  })
}

export interface AddressView {
  readonly address: Address
  readonly problems: readonly AddressProblem[]
  /** All proposed corrections together; null when there is none. */
  readonly proposed: Address | null
}

export async function showAddress(gharry: Application, id: number): Promise<AddressView | null> {
  const [stored] = await ordersById(gharry.db, [id])
  if (!stored) return null
  const { shipTo } = stored.order
  const proposed = correctAll(shipTo)
  return { address: shipTo, problems: checkAddress(shipTo), proposed: proposed === shipTo ? null : proposed }
}

/** Reads a pasted address into fields; nothing is saved. */
export const readBlock = (text: string, country: string): ReadBlock => readAddressBlock(text, country)

/**
 * Gives a waiting order another address (`null`: the one it has, as it is), remembers it for every order that comes
 * with the same one, and routes the order again.
 */
export async function correctAddress(
  gharry: Application,
  id: number,
  given: Address | null,
): Promise<Answer<{ problems: readonly AddressProblem[] }>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const country = given === null ? '' : countryCode(given.country)
  if (given !== null && !country)
    return refuse('unknown-country', `"${given.country}" is no country: write a code such as BE, or a name.`)
  if (given !== null && (given.lines.length === 0 || given.city === ''))
    return refuse('incomplete', given.city === '' ? 'The address has no city.' : 'The address has no street line.')
  return gharry.db.transaction(async (trx): Promise<Answer<{ problems: readonly AddressProblem[] }>> => {
    const row = await orderRow(trx, id)
    const [stored] = await ordersById(trx, [id])
    if (!row || !stored) return refuse('unknown-order', 'There is no such order.')
    if (!waitingStates.includes(row.state))
      return refuse(
        'not-waiting',
        `Order ${row.number} is ${row.state}: its address is on the label. Void the label first.`,
      )
    const { order } = stored
    if (given === null && (order.shipTo.country === '' || order.shipTo.lines.length === 0))
      return refuse('incomplete', 'An address without a country or a street cannot be used as it is: write it.')
    const now = gharry.now().toISOString()
    const next = given === null ? withAddressAccepted(order) : withCorrection(order, { ...given, country: country! })
    await setCorrection(trx, addressKey(order.shipTo), given === null ? null : next.shipTo, gharry.settings.author, now)
    await updateFacts(trx, id, next, factHash(next))
    await writeLog(trx, [
      {
        order: id,
        at: now,
        author: gharry.settings.author,
        sentence:
          given === null
            ? 'Address used as it is'
            : `Address changed to ${[...next.shipTo.lines, `${next.shipTo.postcode} ${next.shipTo.city}`.trim(), next.shipTo.country].join(', ')}`,
      },
    ])
    await routeAgain(gharry, trx, [id], inForce)
    return { ok: true, problems: given === null ? [] : checkAddress(next.shipTo) }
  })
}
