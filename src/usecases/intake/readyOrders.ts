import { closedAs, normaliseOrder, type Order, type OrderState, type RawOrder } from '@/core/order'
import { withAddressChecked } from '@/core/address'
import { firstZone } from '@/core/world'
import { correctionsOf, type Database, type Decided, fromJson, newOrder, type NewOrder } from '@/data'
import { addressKey, correctedAs } from '../desk/correctAddress'
import { factHash } from '../shared/factHash'
import { decideFully } from '../shared/routeOrders'
import type { InForce } from '../shared/rulebookInForce'

/** An order of a channel, made ready for the books: plain values, which another thread can have made. */
export interface ReadyOrder extends Pick<Order, 'remoteId' | 'changedAt'> {
  /** The order as JSON. */
  readonly facts: string
  readonly hash: string
  /** What a doubtful address is found by among those that people corrected before; null where none is. */
  readonly doubt: string | null
  /** The order itself, where it was made in this thread. */
  readonly order?: Order
  /** What was decided for it, where it is new. */
  readonly decided?: { readonly state: OrderState; readonly entry: NewOrder }
}

type By = Pick<InForce, 'edition' | 'worldVersion' | 'outages'>
/** Orders that were made ready, and by what: they are made anew where that is not in force any more. */
export interface Ready extends By {
  readonly orders: readonly ReadyOrder[]
}
/** Whether orders were made ready by what is in force. */
export const isOf = (made: By, { edition, worldVersion, outages }: By): boolean =>
  made.edition === edition && made.worldVersion === worldVersion && made.outages === outages

/** Orders of a channel as ours, with their addresses checked; of one that is named twice, the later state. */
export const readyOrders = (raw: readonly RawOrder[], channel: string, { ready }: InForce): ReadyOrder[] =>
  lastOfEach(
    raw.map((order) => normaliseOrder(order, channel, ready.cards, firstZone(ready.world), ready.world.rates.home)),
  ).map((order) => {
    const checked = withAddressChecked(order)
    return asReady(checked, checked === order ? null : addressKey(order.shipTo))
  })

function asReady(order: Order, doubt: string | null): ReadyOrder {
  const facts = JSON.stringify(order)
  return {
    ...{ remoteId: order.remoteId, changedAt: order.changedAt },
    facts,
    hash: factHash(order, facts),
    doubt,
    order,
  }
}

/** The order that was made ready. */
export const orderIn = ({ order, facts }: ReadyOrder): Order => order ?? fromJson<Order>(facts)

/** Decides for a new order; what was decided already stays. */
export function decidedOf(one: ReadyOrder, inForce: InForce, now: Date): NonNullable<ReadyOrder['decided']> {
  if (one.decided) return one.decided
  const order = orderIn(one)
  const decided = firstDecision(order, inForce, now)
  return { state: decided.state, entry: newOrder(order, one.facts, one.hash, decided) }
}

function firstDecision(order: Order, inForce: InForce, now: Date): Decided {
  const decided = decideFully(order, inForce, now)
  return { ...decided, state: closedAs(order.status) ?? decided.state }
}

/** Addresses that people corrected before are corrected again. */
export async function withCorrections(db: Database, ready: readonly ReadyOrder[]): Promise<readonly ReadyOrder[]> {
  const doubts = ready.flatMap(({ doubt }) => doubt ?? [])
  const corrections = doubts.length === 0 ? new Map<string, never>() : await correctionsOf(db, doubts)
  if (corrections.size === 0) return ready
  return ready.map((one) => {
    const correction = one.doubt === null ? undefined : corrections.get(one.doubt)
    return correction === undefined ? one : asReady(correctedAs(orderIn(one), correction), one.doubt)
  })
}

/** When a page names an order twice, the later state counts; of the same moment, the one that came last. */
export function lastOfEach<T extends Pick<Order, 'remoteId' | 'changedAt'>>(orders: readonly T[]): T[] {
  const last = new Map<string, T>()
  for (const order of orders) {
    const known = last.get(order.remoteId)
    if (!known || order.changedAt >= known.changedAt) last.set(order.remoteId, order)
  }
  return [...last.values()]
}
