import { toHome } from '@/core/units'
import type { Order, OrderState } from '@/core/order'
import { route, type Pins, type Routed } from '@/core/rulebook'
import { ordersById, pageOfOrders, pinsOf, recordDecisions, type Database, type Decided, type Recorded, type StoredOrder } from '@/data'
import type { Gharry } from './gharry'
import type { InForce } from './rulebookInForce'

/** The state that a decision puts a waiting order in. */
export const stateAfter = (routed: Routed): OrderState => (routed.problems.length > 0 ? 'attention' : routed.decisions.hold !== null ? 'held' : 'ready')

/** Decides for one order, without writing anything. */
export function decide(order: Order, inForce: InForce, now: Date, pins?: Pins): Routed {
  return route(order, inForce.program, inForce.ready, { now: now.getTime(), pins })
}

/** Decides for one order, with the columns that follow from it. */
export function decideFully(order: Order, inForce: InForce, now: Date, pins?: Pins): Decided {
  const routed = decide(order, inForce, now, pins)
  return { routed, state: stateAfter(routed), value: toHome(order.value, inForce.ready.world.rates) }
}

/** Routes orders of the books again and records the decisions with their trails. */
export async function routeAndRecord(db: Database, orders: readonly StoredOrder[], inForce: InForce, now: Date): Promise<void> {
  const pins = await pinsOf(db, orders.map(({ id }) => id))
  const recorded = orders.map(({ id, order }): Recorded => ({ id, pinned: pins.has(id), ...decideFully(order, inForce, now, pins.get(id)) }))
  await recordDecisions(db, recorded, inForce.edition, inForce.worldVersion, now.toISOString())
}

/** Routes single orders again, those of them that still wait. */
export async function routeAgain(gharry: Gharry, db: Database, ids: readonly number[], inForce: InForce): Promise<void> {
  await routeAndRecord(db, await ordersById(db, ids), inForce, gharry.now())
}

/** One step of routing all waiting orders again; gives the last id done, null when there are no more. */
export async function routeNextPage(gharry: Gharry, db: Database, inForce: InForce, after: number): Promise<{ last: number; count: number } | null> {
  const page = await pageOfOrders(db, ['attention', 'held', 'ready'], after, 250)
  if (page.length === 0) return null
  await routeAndRecord(db, page, inForce, gharry.now())
  return { last: page[page.length - 1]!.id, count: page.length }
}
