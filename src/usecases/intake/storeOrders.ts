import {
  closedAs,
  foldText,
  type Order,
  type OrderState,
  type RawOrder,
  waitingStates,
  type Wishes,
} from '@/core/order'
import { type DecisionId, equalJson, type Pins } from '@/core/rulebook/language'
import {
  findKnown,
  insertOrders,
  orderRow,
  ordersById,
  pinsOf,
  setChangedAt,
  setFlag,
  setPin,
  setState,
  shipmentOf,
  updateFacts,
  writeLog,
  type Database,
  type ImportCounts,
  type Known,
  type NewOrder,
} from '@/data'
import { openShipment } from '../desk/combineOrders'
import { announceOrders } from '../open/announce'
import type { World } from '@/core/world'
import type { InForce } from '../shared/rulebookInForce'
import { routeAndRecord } from '../shared/routeOrders'
import { decidedOf, isOf, orderIn, type Ready, readyOrders, type ReadyOrder, withCorrections } from './readyOrders'

/**
 * Takes a portion of a channel's orders into the books, in the caller's transaction:
 * made ready → tell new, changed and known apart → store → route → record. The same portion again changes nothing.
 * @param made the same orders as another thread made them ready
 */
export async function storeOrders(
  db: Database,
  channel: string,
  raw: readonly RawOrder[],
  inForce: InForce,
  now: Date,
  made: Ready | null = null,
): Promise<ImportCounts> {
  const orders = await withCorrections(
    db,
    made && isOf(made, inForce) ? made.orders : readyOrders(raw, channel, inForce),
  )
  const known = await findKnown(
    db,
    channel,
    orders.map((order) => order.remoteId),
  )
  const counts = {
    fetched: raw.length,
    created: 0,
    updated: 0,
    unchanged: raw.length - orders.length,
    flagged: 0,
    cancelled: 0,
    bad: 0,
  }

  // Only a channel that says when an order changed can be late with what it says.
  const dated = new Set(raw.flatMap(({ id, changedAt }) => (changedAt === undefined ? [] : [id.trim()])))
  const isOlder = ({ changedAt, remoteId }: ReadyOrder, before: Known): boolean =>
    before.changedAt !== null && changedAt < before.changedAt && dated.has(remoteId)
  const fresh: { readonly remoteId: string; readonly state: OrderState; readonly entry: NewOrder }[] = []
  const changed: number[] = []
  for (const one of orders) {
    const before = known.get(one.remoteId)
    if (before?.forgottenAt) counts.unchanged++
    else if (!before) fresh.push({ remoteId: one.remoteId, ...decidedOf(one, inForce, now) })
    else if (isOlder(one, before)) counts.unchanged++
    else if (before.factHash === one.hash) {
      counts.unchanged++
      if (one.changedAt !== before.changedAt) await setChangedAt(db, before.id, one.changedAt)
    } else {
      const own = await byItself(db, before, inForce, now)
      counts[await takeChange(db, own, orderIn(one), one.hash, changed, now)]++
    }
  }
  counts.created = fresh.length
  counts.cancelled += fresh.filter(({ state }) => state === 'cancelled').length
  const ids = await insertOrders(
    db,
    fresh.map(({ entry }) => entry),
    inForce.edition,
    inForce.worldVersion,
    now.toISOString(),
  )
  changed.push(
    ...(await pinWishes(
      db,
      raw,
      [...known, ...fresh.map(({ remoteId, state }, i) => [remoteId, { id: ids[i]!, state }] as const)],
      inForce,
      now,
    )),
  )
  if (changed.length > 0) await routeAndRecord(db, await ordersById(db, changed), inForce, now)
  await announceOrders(db, now, [...ids, ...changed])
  return counts
}

/**
 * What senders decide for single orders is pinned as by hand: no rule goes before it, and people may release it. Gives
 * the waiting orders that it changes.
 */
async function pinWishes(
  db: Database,
  raw: readonly RawOrder[],
  orders: Iterable<readonly [remoteId: string, { readonly id: number; readonly state: OrderState }]>,
  inForce: InForce,
  now: Date,
): Promise<number[]> {
  const wanted = raw.filter(({ wishes }) => wishes !== undefined)
  if (wanted.length === 0) return []
  const byRemote = new Map(orders)
  const pinned = new Set<number>()
  const before = await pinsOf(
    db,
    wanted.flatMap(({ id }) => byRemote.get(id.trim())?.id ?? []),
  )
  for (const { id, wishes } of wanted) {
    const order = byRemote.get(id.trim())
    if (!order || !waitingStates.includes(order.state)) continue
    for (const [decision, value] of Object.entries(pinsFor(wishes!, inForce.ready.world))) {
      const known = before.get(order.id) as Readonly<Record<string, unknown>> | undefined
      if (known && equalJson(known[decision], value)) continue
      await setPin(db, order.id, decision as DecisionId, value, 'The file', now.toISOString())
      pinned.add(order.id)
    }
  }
  return [...pinned]
}

/** Wishes as decisions; the weight of a parcel in a package is that of its goods with it. */
function pinsFor({ preset, weight, size, insurance }: Wishes, { presets }: World): Pins {
  const found = presets.find(
    ({ id, name }) =>
      preset !== undefined && (foldText(id) === foldText(preset) || foldText(name) === foldText(preset)),
  )
  return {
    ...(preset === undefined ? {} : { preset: found?.id ?? preset }),
    ...(size === undefined ? {} : { dimensions: [...size] }),
    ...(weight === undefined ? {} : { weight: Math.max(1, weight - (found?.tare ?? 0)) }),
    ...(insurance === undefined ? {} : { insurance: insuranceOf(insurance) }),
  }
}

function insuranceOf(wish: NonNullable<Wishes['insurance']>): unknown {
  return typeof wish === 'string' ? { cover: wish } : { cover: 'amount', amount: wish }
}

/**
 * An order that changed upstream does not stay in a shipment of several that is not bought yet: that was made of what
 * it was.
 */
async function byItself(db: Database, before: Known, inForce: InForce, now: Date): Promise<Known> {
  const shipment = before.state === 'combined' ? await shipmentOf(db, before.id) : undefined
  const row = shipment === undefined ? undefined : await orderRow(db, shipment)
  if (!row || !waitingStates.includes(row.state)) return before
  await openShipment(db, row.id, 'channel', now, inForce, 'An order of it changed in the channel')
  return { ...before, state: 'ready' }
}

/** An order that changed upstream: routed again while it waits; flagged once a label is bought. */
async function takeChange(
  db: Database,
  before: Known,
  order: Order,
  hash: string,
  changed: number[],
  now: Date,
): Promise<'updated' | 'flagged' | 'cancelled'> {
  const log = (sentence: string): Promise<void> =>
    writeLog(db, [{ order: before.id, at: now.toISOString(), author: 'channel', sentence }])
  const waits = waitingStates.includes(before.state)
  const gone = before.state === 'cancelled' || before.state === 'fulfilled elsewhere'
  // That it is fulfilled is our own tracking post coming back to us: to the books the order stays open, should the
  // label be voided.
  const ours: Order = order.status === 'fulfilled' && !waits ? { ...order, status: 'open' } : order
  if (order.status === 'fulfilled' && !waits && !gone && !(await isChanged(db, before.id, order))) {
    // Nothing else has changed, and a flag that is up stays up.
    await updateFacts(db, before.id, ours, hash)
    return 'updated'
  }
  if (!waits && !gone) {
    const flag =
      order.status === 'cancelled'
        ? 'Cancelled in the channel after the label was bought: void the label or stop the parcel.'
        : 'Changed in the channel after the label was bought: compare before it leaves.'
    // The label keeps what it was bought for; the order itself is up to date, should the label be voided.
    await updateFacts(db, before.id, ours, hash)
    await setFlag(db, before.id, flag)
    await log(flag)
    return 'flagged'
  }
  await updateFacts(db, before.id, order, hash)
  const closed = closedAs(order.status)
  if (closed === null) {
    changed.push(before.id)
    await log('Changed in the channel; routed again.')
    return 'updated'
  }
  await setState(db, [before.id], closed)
  await log(order.status === 'cancelled' ? 'Cancelled in the channel.' : 'Fulfilled elsewhere, says the channel.')
  return order.status === 'cancelled' ? 'cancelled' : 'updated'
}

/**
 * What a parcel was packed and addressed by: weights and tags come from our own lists, and are no change of the
 * channel's.
 */
const shipped = ({ shipTo, buyer, items, wording, promisedBy, paymentMethod, value }: Order): string =>
  JSON.stringify({
    shipTo,
    buyer,
    wording,
    promisedBy,
    paymentMethod,
    value,
    items: items.map(({ line, sku, quantity, unitPrice }) => [line, sku, quantity, unitPrice]),
  })

/** Whether an order differs from what the books have of it in anything but where the channel says it is. */
async function isChanged(db: Database, id: number, order: Order): Promise<boolean> {
  const [stored] = await ordersById(db, [id])
  return stored === undefined || shipped(stored.order) !== shipped(order)
}
