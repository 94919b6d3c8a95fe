import type { Knex } from 'knex'
import type { Order, OrderState } from '@/core/order'
import type { Settled } from '@/core/rulebook/decide'
import { countAll } from './countAll'
import { fromJson, type Database } from './database'
import { jsonWithout } from './engine'

/** Which orders a trial looks at. Moments as UTC text, both ends included. */
export interface TrialScope {
  /** Orders in these states are left out. */
  readonly without: readonly OrderState[]
  readonly from: string
  readonly until: string
  /** All channels when empty. */
  readonly channels: readonly string[]
}

function within(db: Database, { without, from, until, channels }: TrialScope): ReturnType<Database> {
  const query = db('orders').whereNotIn('orders.state', without).whereBetween('orders.placed_at', [from, until])
  if (channels.length > 0) void query.whereIn('orders.channel_id', channels)
  return query as ReturnType<Database>
}

/** How many orders a trial would be made of. */
export const countTrialOrders = (db: Database, scope: TrialScope): Promise<number> => countAll(within(db, scope))

/** Where an order stands in the order in which they were placed. */
export interface Place {
  readonly placedAt: string
  readonly id: number
}

/** A range of orders: after one place, up to and with another; from the first and to the last where there is none. */
export interface OrderRange {
  readonly after: Place | null
  readonly upTo: Place | null
}

/** The ranges of about `size` orders that make up a scope. */
export async function rangesOf(db: Database, scope: TrialScope, size: number): Promise<OrderRange[]> {
  const numbered = within(db, scope)
    .select('orders.placed_at', 'orders.id')
    .rowNumber('place', (by) => void by.orderBy([{ column: 'orders.placed_at' }, { column: 'orders.id' }]))
  const ends = (await db
    .from(numbered.as('numbered'))
    .whereRaw('?? % ? = 0', ['place', size])
    .orderBy('place')
    .select('placed_at', 'id')) as { placedAt: string; id: number }[]
  const places = ends.map(({ placedAt, id }): Place => ({ placedAt: placedAt, id }))
  return [null, ...places].map((after, i) => ({ after, upTo: places[i] ?? null }))
}

/**
 * The orders of a range with their facts, in the order in which they were placed; with `changedOf`, those alone that
 * changed since the columns of that day were made.
 */
export async function ordersInRange(
  db: Database,
  scope: TrialScope,
  { after, upTo }: OrderRange,
  changedOf?: string,
): Promise<{ id: number; state: OrderState; order: Order }[]> {
  // One bound at each end: of two, the database might search by the farther one.
  const query = within(db, { ...scope, from: after?.placedAt ?? scope.from, until: upTo?.placedAt ?? scope.until })
  if (after)
    void query.whereNot(
      (before) => void before.where('orders.placed_at', after.placedAt).where('orders.id', '<=', after.id),
    )
  if (upTo)
    void query.whereNot((later) => void later.where('orders.placed_at', upTo.placedAt).where('orders.id', '>', upTo.id))
  if (changedOf !== undefined)
    void query.whereIn('orders.id', db('past_changes').where({ day: changedOf }).select('order_id'))
  const rows = (await query
    .join('order_facts', 'order_facts.order_id', 'orders.id')
    .orderBy([{ column: 'orders.placed_at' }, { column: 'orders.id' }])
    .select('orders.id', 'orders.state', 'order_facts.facts')) as { id: number; state: OrderState; facts: string }[]
  return rows.map(({ id, state, facts }) => ({ id, state, order: fromJson<Order>(facts) }))
}

/** All orders placed since a moment, with what was decided for them last, in portions; null where nothing was. */
export async function* monthOfOrders(
  db: Database,
  since: string,
  portion: number,
): AsyncGenerator<{ order: Order; settled: Settled | null }> {
  for (let after = 0; ;) {
    const rows = (await db('orders')
      .join('order_facts', 'order_facts.order_id', 'orders.id')
      .leftJoin('decisions', 'decisions.order_id', 'orders.id')
      .where('orders.placed_at', '>=', since)
      .where('orders.id', '>', after)
      .orderBy('orders.id')
      .limit(portion)
      .select('orders.id', 'order_facts.facts', jsonWithout(db, 'decisions.outcome', 'trail', 'settled'))) as {
      id: number
      facts: string
      settled: string | null
    }[]
    for (const { facts, settled } of rows)
      yield { order: fromJson<Order>(facts), settled: settled === null ? null : fromJson<Settled>(settled) }
    if (rows.length < portion) return
    after = rows[rows.length - 1]!.id
  }
}

/** The youngest orders placed since a moment, with their facts, and how many there are in all. */
export async function youngestOrders(
  db: Database,
  states: readonly OrderState[],
  since: string,
  most: number,
): Promise<{ available: number; orders: { id: number; state: OrderState; placedAt: string; order: Order }[] }> {
  const among = (): Knex.QueryBuilder => db('orders').whereIn('state', states).where('placed_at', '>=', since)
  const [count] = (await among().count({ n: '*' })) as { n: number }[]
  const rows = (await among()
    .join('order_facts', 'order_facts.order_id', 'orders.id')
    .orderBy('placed_at', 'desc')
    .limit(most)
    .select('orders.id', 'orders.state', 'orders.placed_at', 'order_facts.facts')) as {
    id: number
    state: OrderState
    placedAt: string
    facts: string
  }[]
  return {
    available: Number(count?.n ?? 0),
    orders: rows.map((row) => ({
      id: row.id,
      state: row.state,
      placedAt: row.placedAt,
      order: fromJson<Order>(row.facts),
    })),
  }
}
