import type { Order } from '@/core/order'
import { came, type Condition, conditions, type Pieces, piecesOf, type Priced, refundFor } from '@/core/returns'
import { channelKindOf } from '@/adapters'
import { cleanTrackingNumber } from '@/core/tracking'
import { readCode } from '@/core/bench'
import { formatMoney, money, toHome } from '@/core/units'
import type { World } from '@/core/world'
import {
  addStockMoves,
  changeReturn,
  channelById,
  type Database,
  filesOfReturns,
  type Found,
  ordersById,
  returnById,
  type ReturnRow,
  returnsByScan,
  returnsOf,
  stockAt,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { piecesBySku } from '../../shared/stockInForce'
import { tellReturn } from './answerReturn'
import { payBack } from './payBack'
import { heldPieces } from './pieces'

/** A return as it is looked at when it comes. */
export interface ReturnToCheck {
  readonly id: number
  readonly number: string
  readonly buyer: string
  readonly reason: string
  readonly words: string
  readonly state: ReturnRow['state']
  readonly trackingNumber: string
  readonly photos: readonly number[]
  readonly items: readonly {
    readonly item: number
    readonly sku: string
    readonly title: string
    /** How many are said to come. */
    readonly quantity: number
  }[]
  /** What refunds of its order are worked out from, and the pieces that were paid back before. */
  readonly priced: Priced
  readonly before: Pieces
  readonly currency: string
  /** What the buyer paid for shipping and has not got back, where all of the order is back with this. */
  readonly shipping: number
  /** What the label costs that is taken off, in the order's currency; 0 where the seller pays. */
  readonly off: number
  /** Whether its channel pays it back when it is told; else a person does. */
  readonly paidByChannel: boolean
}

const open: readonly ReturnRow['state'][] = ['asked', 'making', 'ready', 'coming', 'lapsed']

/** What was scanned: the label of a return, its code, or an order's number. */
export async function findReturn(
  gharry: Application,
  { code }: { readonly code: string },
): Promise<Answer<{ readonly found: readonly ReturnToCheck[] }>> {
  const read = readCode(code)
  if (read.kind === 'unreadable') return refuse('bad-value', read.why)
  const plain = code.trim().toUpperCase()
  const rows = [
    ...(await returnsByScan(gharry.db, cleanTrackingNumber(plain) ?? plain)),
    ...(await returnsByScan(gharry.db, plain)),
  ].filter((row, i, all) => all.findIndex(({ id }) => id === row.id) === i)
  const waiting = rows.filter(({ state }) => open.includes(state))
  if (waiting.length > 0) {
    const found: ReturnToCheck[] = []
    for (const row of waiting) found.push(await toCheck(gharry, row))
    return { ok: true, found }
  }
  return rows.length > 0
    ? refuse('taken-before', 'This was looked at already.')
    : refuse(
        'not-found',
        `“${plain.slice(0, 60)}” is no return that is awaited: scan its slip, or type the order’s number.`,
      )
}

async function toCheck({ db }: Application, row: ReturnRow): Promise<ReturnToCheck> {
  const [stored] = await ordersById(db, [row.orderId])
  const { order } = stored!
  const { world } = await currentWorld(db)
  const before = heldPieces(order, await settled(db, row))
  const channel = await channelById(db, order.channel)
  return {
    ...{ id: row.id, number: order.number, buyer: order.buyer.name || order.shipTo.name },
    ...{ reason: row.reason, words: row.words, state: row.state, trackingNumber: row.trackingNumber ?? '' },
    photos: (await filesOfReturns(db, [row.id], 'photo')).get(row.id) ?? [],
    items: row.pieces.map(({ item, quantity }) => {
      const { sku, title } = order.items[item]!
      return { item, sku, title, quantity }
    }),
    priced: {
      items: order.items.map(({ unitPrice, quantity }) => ({ unitPrice, quantity })),
      ...{ value: order.value, discount: order.discount },
    },
    before,
    currency: order.value.currency,
    shipping: await shippingDue(db, row, order, row.pieces),
    off: row.paidByBuyer ? inCurrency(row.charge, order.value.currency, world) : 0,
    paidByChannel: channel !== undefined && channelKindOf(channel.kind)?.can.refunds === true,
  }
}

const settled = async (db: Database, row: ReturnRow): Promise<ReturnRow[]> =>
  (await returnsOf(db, { labelId: row.labelId })).filter(({ id, state }) => id !== row.id && state === 'checked')

/** What was paid for shipping, once all of the order is back; 0 before, and once it was paid back. */
async function shippingDue(
  db: Database,
  row: ReturnRow,
  order: Order,
  now: readonly { readonly item: number; readonly quantity: number }[],
): Promise<number> {
  const before = await settled(db, row)
  if (before.some(({ forShipping }) => forShipping > 0) || order.shippingPaid.currency !== order.value.currency)
    return 0
  const held = heldPieces(order, before)
  const back = piecesOf(order.items.length, [now])
  return order.items.every(({ quantity }, i) => held[i]! + back[i]! >= quantity) ? order.shippingPaid.minor : 0
}

/** Home minor units in a currency, half up; 0 where it has no rate. */
function inCurrency(home: number, currency: string, world: World): number {
  if (currency === world.rates.home) return home
  const one = toHome(money(1_000_000, currency), world.rates)
  return one ? Math.round((home * 1_000_000) / one) : 0
}

/** What was found when a return came, and what its buyer gets. */
export interface CheckedReturn {
  readonly id: number
  readonly found: readonly Found[]
  /** Minor units of the order's currency, shipping included; null for what is worked out. */
  readonly amount: number | null
  readonly withShipping: boolean
  readonly note: string
}

/**
 * A return was looked at: what is there in which condition, and what is kept. Its buyer gets back what is due for it,
 * or less where a person says so; the channel pays it when it is told, else a person does. Each return is settled once.
 */
export async function checkReturn(
  gharry: Application,
  { id, found, amount, withShipping, note }: CheckedReturn,
): Promise<Answer<{ readonly amount: number; readonly currency: string; readonly paidByChannel: boolean }>> {
  const { author } = gharry.settings
  return gharry.db.transaction(
    async (trx): Promise<Answer<{ amount: number; currency: string; paidByChannel: boolean }>> => {
      const row = await returnById(trx, id)
      const [stored] = row ? await ordersById(trx, [row.orderId]) : []
      if (!row || !stored) return refuse('not-found', 'There is no such return.')
      if (!open.includes(row.state)) return refuse('taken-before', `${stored.order.number} was looked at already.`)
      const wrong = againstFound(row, found)
      if (wrong) return refuse('bad-value', wrong)
      const { world } = await currentWorld(trx)
      const { order } = stored
      const there = found.filter(came)
      const before = heldPieces(order, await settled(trx, row))
      const goods = refundFor(order, before, piecesOf(order.items.length, [there])).minor
      const forShipping = withShipping ? await shippingDue(trx, row, order, there) : 0
      const off = row.paidByBuyer ? inCurrency(row.charge, order.value.currency, world) : 0
      const due = Math.max(0, goods + forShipping - off)
      const { currency } = order.value
      if (amount !== null && (amount < 0 || amount > goods + forShipping))
        return refuse(
          'bad-amount',
          `At most ${formatMoney(money(goods + forShipping, currency))} can be paid back: that is what was paid for it.`,
        )
      const paid = amount ?? due
      const now = gharry.now().toISOString()
      const change = {
        state: 'checked',
        found,
        checkedAt: now,
        checkedBy: author,
        note: note.trim().slice(0, 500),
      } as const
      const shipping = Math.min(forShipping, paid)
      await changeReturn(trx, id, open, {
        ...change,
        amount: paid,
        forShipping: shipping,
        leaseOwner: null,
        problem: null,
      })
      const by = await payBack(trx, { ...row, found, amount: paid }, order, now)
      const kept = there.filter((one) => one.kept)
      await putIntoStock(trx, row, order, kept, { at: now, author })
      const what = [
        `What came back was looked at: ${found.map((one) => `${one.quantity} × ${order.items[one.item]!.sku} ${one.condition}`).join(', ')}`,
        `${formatMoney(money(paid, currency))} go back to the buyer`,
        ...(kept.length > 0 ? [`${kept.reduce((sum, { quantity }) => sum + quantity, 0)} into the stock`] : []),
      ]
      await writeLog(trx, [{ order: row.orderId, at: now, author, sentence: what.join('; ') }])
      if (paid > 0) await tellReturn(gharry, trx, row, 'paid back')
      return { ok: true, amount: paid, currency, paidByChannel: by }
    },
  )
}

/** What is kept is in stock again, of SKUs that are counted where it lies. */
async function putIntoStock(
  trx: Database,
  row: ReturnRow,
  order: Order,
  kept: readonly Found[],
  of: { readonly at: string; readonly author: string },
): Promise<void> {
  const pieces = [...piecesBySku(kept.map(({ item, quantity }) => ({ ...order.items[item]!, quantity })))]
  const counted = await stockAt(
    trx,
    row.location,
    pieces.map(([sku]) => sku),
  )
  await addStockMoves(
    trx,
    pieces
      .filter(([sku]) => counted.has(sku))
      .map(([sku, onHand]) => ({
        ...{ ...of, location: row.location, sku, kind: 'returned', onHand, reserved: 0, labelId: row.labelId },
        ...{ note: '', key: `return-${row.id}-${sku}` },
      })),
  )
}

/** What is wrong with what somebody found; null when nothing is. */
function againstFound(row: ReturnRow, found: readonly Found[]): string | null {
  if (found.length === 0) return 'Say what came back.'
  const said = new Map(row.pieces.map(({ item, quantity }) => [item, quantity]))
  for (const { item, quantity, condition } of found) {
    if (!said.has(item) || quantity < 1) return 'That item is not awaited with this return.'
    if (!(conditions as readonly Condition[]).includes(condition)) return 'Choose a condition.'
    said.set(item, said.get(item)! - quantity)
  }
  return [...said.values()].every((left) => left === 0) ? null : 'Say for each piece whether it is there, and how.'
}
