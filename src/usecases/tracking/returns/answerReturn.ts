import { grams, type Grams } from '@/core/units'
import { carrierKindOf, type LabelRequest, type ReturnRequest } from '@/adapters'
import { itemsWeight } from '@/core/packing'
import { type Order, unNumbers } from '@/core/order'
import { printedAddress } from '@/core/address'
import type { Service } from '@/core/rating'
import { offersReturn } from '@/core/rulebook/decide'
import { printedLocation, type World } from '@/core/world'
import {
  changeReturn,
  connectionsOfCarrier,
  type Database,
  fromJson,
  labelById,
  type LabelParcel,
  ordersById,
  parcelsOfLabels,
  returnById,
  type ReturnRow,
  returnsByNumbers,
  writeLog,
} from '@/data'
import { accountFor } from '../../shared/accounts'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { declaredItems } from '../../dispatch/parcelPapers'
import { tellCustomer } from '../notices'

/** What rules say of a return: taken, refused, or (null) to be asked; by which services; and who pays. */
export interface ReturnAnswer {
  readonly take: boolean | null
  readonly services: readonly string[]
  readonly paidByBuyer: boolean
  /** Which rule said it; empty for a person. */
  readonly why: string
}

/** Written where a buyer sends something back without a label of ours. */
const noLabel = 'none'

/**
 * A return is taken, in the caller's transaction: with the label that lay in its box, else with one that a carrier is
 * asked for. Where nobody gives one there, a person has to say how it comes.
 */
export async function acceptReturn(
  gharry: Application,
  trx: Database,
  row: ReturnRow,
  { services, paidByBuyer, why }: Pick<ReturnAnswer, 'services' | 'paidByBuyer' | 'why'>,
): Promise<void> {
  const { world } = await currentWorld(trx)
  const now = gharry.now().toISOString()
  const log = (sentence: string): Promise<void> =>
    writeLog(trx, [{ order: row.orderId, at: now, author: by(gharry, why), sentence }])
  const taken = { why, paidByBuyer, problem: null }
  if (services.includes(noLabel)) {
    if (!(await changeReturn(trx, row.id, ['asked'], { ...taken, state: 'ready' }))) return
    await log('The return is taken; it comes without a label of ours')
    return tellReturn(gharry, trx, row, 'return agreed')
  }
  const inBox = await labelInBox(trx, row)
  if (inBox) {
    const label = (await labelById(trx, row.labelId))!
    await changeReturn(trx, row.id, ['asked'], {
      ...{ ...taken, state: 'ready', carrier: label.carrier, service: label.service, account: label.account },
      ...{ trackingNumber: inBox.returnNumber, symbology: inBox.symbology ?? 'code128' },
    })
    await log('The return is taken, with the label that lay in the box')
    return tellReturn(gharry, trx, row, 'return agreed')
  }
  const way = await wayBack(trx, row, world, services)
  if (!way) {
    await changeReturn(trx, row.id, ['asked'], { ...taken, problem: nobody })
    return
  }
  const { service, account, request } = way
  // Another question to a carrier is another intent.
  const key = `return-${row.id}-${Date.parse(now)}`
  const making = { state: 'making', carrier: service.carrier, service: service.id, account, request, key } as const
  if (await changeReturn(trx, row.id, ['asked'], { ...taken, ...making, attempts: 0, nextAt: now, leaseOwner: null }))
    await log(`The return is taken; ${service.name} is asked for its label`)
}

const nobody = 'No service of the set-up gives a return label there: choose one, or let it come without.'
const by = ({ settings }: Application, why: string): string => (why === '' ? settings.author : 'Gharry')

/** A return is not taken, in the caller's transaction; its buyer reads why. */
export async function refuseReturn(gharry: Application, trx: Database, row: ReturnRow, why: string): Promise<void> {
  // Whoever asks the carrier for its label has lost it.
  const refused = { state: 'refused', why, problem: null, leaseOwner: null } as const
  if (!(await changeReturn(trx, row.id, ['asked', 'making', 'ready'], refused))) return
  const now = gharry.now().toISOString()
  const sentence = `The return is not taken${why === '' ? '' : `: ${why}`}`
  await writeLog(trx, [{ order: row.orderId, at: now, author: gharry.settings.author, sentence }])
  await tellReturn(gharry, trx, row, 'return refused')
}

/**
 * A person answers a return that waits for them; one that is under way already can still be refused until it is sent.
 */
export async function answerReturn(
  gharry: Application,
  given: {
    readonly id: number
    readonly take: boolean
    /** Why it is refused, as its buyer reads it. */
    readonly why: string
    /** A service, `none` for no label of ours; empty for the one by which it went, or the next that does. */
    readonly service: string
    readonly paidByBuyer: boolean
  },
): Promise<Answer<object>> {
  const { id, take, why, service, paidByBuyer } = given
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const row = await returnById(trx, id)
    if (!row) return refuse('not-found', 'There is no such return.')
    if (!take && why.trim() === '') return refuse('incomplete', 'Write why: the buyer reads it.')
    if (row.state !== 'asked' && (take || (row.state !== 'ready' && row.state !== 'making')))
      return refuse('not-waiting', 'This return has moved on meanwhile: look again.')
    if (!take) {
      await refuseReturn(gharry, trx, row, why.trim())
      return { ok: true }
    }
    const { world } = await currentWorld(trx)
    const chosen = world.services.find((one) => one.id === service)
    if (service !== '' && service !== noLabel && !(chosen && (await wayBack(trx, row, world, [service], true))))
      return refuse('unknown-service', `${chosen?.name ?? service} gives no return label from there: choose another.`)
    await acceptReturn(gharry, trx, row, { services: service === '' ? [] : [service], paidByBuyer, why: '' })
    return { ok: true }
  })
}

/** The label that lay in the box of what comes back: where all of it was in one parcel, and nobody uses it yet. */
async function labelInBox(trx: Database, row: ReturnRow): Promise<LabelParcel | undefined> {
  const label = await labelById(trx, row.labelId)
  const parcels = (await parcelsOfLabels(trx, [row.labelId])).get(row.labelId) ?? []
  const holds = ({ contents }: LabelParcel): boolean =>
    contents.length === 0 ||
    row.pieces.every(({ item, quantity }) => contents.some((one) => one.item === item && one.quantity >= quantity))
  const box = parcels.find((parcel) => parcel.returnNumber !== null && holds(parcel))
  if (!label || !box) return undefined
  return (await returnsByNumbers(trx, label.carrier, [box.returnNumber!])).size === 0 ? box : undefined
}

interface WayBack {
  readonly service: Service
  readonly account: string | null
  readonly request: ReturnRequest
}

/** The services that could take something back to a location from a country, those that are wanted first. */
function servicesBack(world: World, wanted: readonly string[], usual: string, from: string, to: string): Service[] {
  const all = world.services.filter(
    (service) => offersReturn(service) && service.zones.some((zone) => zone.from === to && zone.to === from),
  )
  const named = wanted.flatMap((name) => all.filter(({ id, carrier }) => id === name || carrier === name))
  const went = all.filter(({ id }) => id === usual)
  const kin = all.filter(({ carrier }) => carrier === went[0]?.carrier)
  return [...new Set([...named, ...went, ...kin, ...all])]
}

/** How something comes back, and what a carrier is asked for it; `only`: by no other service than those wanted. */
async function wayBack(
  trx: Database,
  row: ReturnRow,
  world: World,
  wanted: readonly string[],
  only = false,
): Promise<WayBack | null> {
  const label = await labelById(trx, row.labelId)
  const [stored] = await ordersById(trx, [row.orderId])
  const home = world.locations.find(({ id }) => id === row.location)
  if (!label || !stored || !home) return null
  const went = fromJson<Partial<LabelRequest>>(label.request)
  const { shipTo } = stored.order
  const items = row.pieces.map(({ item, quantity }) => ({ ...stored.order.items[item]!, quantity }))
  const dangerousGoods = unNumbers(items)
  const parcels = (await parcelsOfLabels(trx, [label.id])).get(label.id) ?? []
  for (const service of servicesBack(world, wanted, label.service, shipTo.country, home.country)) {
    if (only && !wanted.includes(service.id)) continue
    if (!dangerousGoods.every((un) => service.limits.dangerousGoods.includes(un))) continue
    const account = accountFor(await connectionsOfCarrier(trx, service.carrier), { location: row.location })
    if (!account?.on || !carrierKindOf(account.kind)?.can.returns) continue
    return {
      service,
      account: account.id,
      request: {
        ...{ service: service.id, reference: stored.order.number.slice(0, 35) },
        from: { lines: printedAddress(shipTo) },
        ...{ fromCountry: shipTo.country, fromPostcode: shipTo.postcode },
        to: { lines: printedLocation(home) },
        ...{ toCountry: home.country, toPostcode: home.address.postcode, dangerousGoods },
        weight: weightOf(items, stored.order, parcels),
        size: went.parcels?.[0]?.size ?? usualSize,
        customs: went.customs ? declaredItems(items) : null,
      },
    }
  }
  return null
}

/** A box that nobody has measured, millimetres. */
const usualSize = [300, 200, 150]
const leastWeight = 50

/** What comes back weighs: the pieces, and the packaging of the first parcel. Grams. */
function weightOf(items: Order['items'], order: Order, parcels: readonly LabelParcel[]): Grams {
  const packed = parcels.reduce((sum, { weight }) => sum + weight, 0)
  const packaging = Math.max(0, packed - itemsWeight(order.items)) / Math.max(1, parcels.length)
  return grams(Math.max(leastWeight, itemsWeight(items) + packaging))
}

/** Tells a buyer of a step of a return. */
export const tellReturn = (
  gharry: Application,
  trx: Database,
  row: Pick<ReturnRow, 'id' | 'orderId' | 'labelId'>,
  step: 'return agreed' | 'return refused' | 'return arrived' | 'paid back',
): Promise<void> => tellCustomer(gharry, trx, { orderId: row.orderId, labelId: row.labelId, step, returnId: row.id })
