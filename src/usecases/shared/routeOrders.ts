import { toHome } from '@/core/units'
import { type Order, type OrderState, waitingStates, withCards } from '@/core/order'
import { changeBetween, tally, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { route } from '@/core/rulebook/decide'
import type { Pins, Routed } from '@/core/rulebook/language'
import {
  addJob,
  ordersById,
  outcomesOf,
  pageOfOrders,
  pinsOf,
  recordDecisions,
  updateFacts,
  type Database,
  type Decided,
  type Recorded,
  type StoredOrder,
} from '@/data'
import { announceOrders } from '../open/announce'
import { factHash } from './factHash'
import type { Application } from './application'
import type { InForce } from './rulebookInForce'

/** The state that a decision puts a waiting order in. */
export const stateAfter = (routed: Routed): OrderState => {
  if (routed.problems.length > 0) return 'attention'
  return routed.decisions.hold !== null ? 'held' : 'ready'
}

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
export async function routeAndRecord(
  db: Database,
  orders: readonly StoredOrder[],
  inForce: InForce,
  now: Date,
): Promise<Recorded[]> {
  const pins = await pinsOf(
    db,
    orders.map(({ id }) => id),
  )
  const recorded = orders.map(({ id, order }): Recorded => ({
    id,
    pinned: pins.has(id),
    ...decideFully(order, inForce, now, pins.get(id)),
  }))
  await recordDecisions(db, recorded, inForce.edition, inForce.worldVersion, now.toISOString())
  return recorded
}

/** Routes single orders again, those of them that still wait. */
export async function routeAgain(
  gharry: Application,
  db: Database,
  ids: readonly number[],
  inForce: InForce,
): Promise<void> {
  await routeAndRecord(db, await ordersById(db, ids), inForce, gharry.now())
  await announceOrders(db, gharry.now(), ids)
}

const onlyLater = ({ decisions, before, after }: TrialChange): boolean =>
  decisions.length === 1 &&
  decisions[0] === 'quote' &&
  before.service === after.service &&
  before.cost === after.cost &&
  before.state === after.state

/** Has the waiting orders routed by an edition, and its flow counted; the same edition again is no more work. */
export async function routeByEdition(db: Database, edition: number, now: string): Promise<void> {
  await addJob(db, 'route again', `edition-${edition}`, { edition, after: 0 }, now)
  await addJob(db, 'count flow', `flow-${edition}`, { edition }, now)
}

/** Orders with what the item list says now; what differs from the books is written there. */
async function refreshed(db: Database, page: readonly StoredOrder[], inForce: InForce): Promise<StoredOrder[]> {
  const fresh: StoredOrder[] = []
  for (const stored of page) {
    const order = withCards(stored.order, inForce.ready.cards)
    if (order !== stored.order) await updateFacts(db, stored.id, order, factHash(order))
    fresh.push({ id: stored.id, order })
  }
  return fresh
}

/** One step of routing all waiting orders again; adds to `summary` what it changed. Null when there are no more. */
export async function routeNextPage(
  gharry: Application,
  db: Database,
  inForce: InForce,
  after: number,
  summary: TrialSummary,
): Promise<{ last: number; count: number; changes: TrialChange[] } | null> {
  const page = await refreshed(db, await pageOfOrders(db, waitingStates, after, 250), inForce)
  if (page.length === 0) return null
  const before = await outcomesOf(
    db,
    page.map(({ id }) => id),
  )
  const recorded = await routeAndRecord(db, page, inForce, gharry.now())
  const changes = page.flatMap((stored, i): TrialChange[] => {
    const old = before.get(stored.id)
    if (!old) return []
    // That time has passed moves the arrival of nearly every order; it is not what this re-routing changed.
    const next = recorded[i]!.routed
    const change = changeBetween(stored, old, next)
    return tally(summary, stored, old, change && !onlyLater(change) ? next : old) ? [change!] : []
  })
  await announceOrders(
    db,
    gharry.now(),
    changes.map(({ id }) => id),
  )
  return { last: page[page.length - 1]!.id, count: page.length, changes }
}

/**
 * Routes a page of the waiting orders that hold one of some SKUs again; gives where it ends, null when there are no
 * more.
 */
export async function routePageWith(
  gharry: Application,
  trx: Database,
  inForce: InForce,
  skus: ReadonlySet<string>,
  after: number,
): Promise<number | null> {
  const page = await pageOfOrders(trx, waitingStates, after, 500)
  if (page.length === 0) return null
  const own = page.filter(({ order }) => order.items.some(({ sku }) => skus.has(sku)))
  if (own.length > 0) {
    await routeAndRecord(trx, own, inForce, gharry.now())
    await announceOrders(
      trx,
      gharry.now(),
      own.map(({ id }) => id),
    )
  }
  return page.at(-1)!.id
}
