import type { Order, OrderState } from '@/core/order'
import { fromJson, type Database } from './database'
import type { OrderRow } from './orders'

/** Which orders a trial looks at. Moments as UTC text, both ends included. */
export interface TrialScope {
  /** Orders in these states are left out. */
  readonly without: readonly OrderState[]
  readonly from: string
  readonly until: string
  /** All channels when empty. */
  readonly channels: readonly string[]
  readonly only?: number
}

function within(db: Database, { without, from, until, channels, only }: TrialScope): ReturnType<Database> {
  const query = db('orders').whereNotIn('orders.state', without).whereBetween('orders.placed_at', [from, until])
  if (channels.length > 0) void query.whereIn('orders.channel_id', channels)
  if (only !== undefined) void query.where('orders.id', only)
  return query as ReturnType<Database>
}

export async function countTrialOrders(db: Database, scope: TrialScope): Promise<number> {
  const [row] = (await within(db, scope).count({ n: '*' })) as unknown as { n: number }[]
  return Number(row!.n)
}

/** Orders with their facts, in the order in which they were placed, after a place. */
export async function pageOfTrialOrders(db: Database, scope: TrialScope, after: { readonly placedAt: string; readonly id: number }, most: number): Promise<{ id: number; state: OrderState; order: Order }[]> {
  const rows = (await within(db, scope).where('orders.placed_at', '>=', after.placedAt).where((later) => void later.where('orders.placed_at', '>', after.placedAt).orWhere((same) => void same.where('orders.placed_at', after.placedAt).where('orders.id', '>', after.id)))
    .join('order_facts', 'order_facts.order_id', 'orders.id').orderBy([{ column: 'orders.placed_at' }, { column: 'orders.id' }]).limit(most).select('orders.id', 'orders.state', 'order_facts.facts')) as { id: number; state: OrderState; facts: string }[]
  return rows.map(({ id, state, facts }) => ({ id, state, order: fromJson<Order>(facts) }))
}

/** All orders placed since a moment, with the text of their facts, in portions. */
export async function* monthOfOrders(db: Database, since: string, portion: number): AsyncGenerator<{ row: OrderRow; facts: string }> {
  for (let after = 0; ;) {
    const rows = (await db('orders').join('order_facts', 'order_facts.order_id', 'orders.id').where('orders.placed_at', '>=', since).where('orders.id', '>', after).orderBy('orders.id').limit(portion).select('orders.*', 'order_facts.facts')) as (OrderRow & { facts: string })[]
    for (const row of rows) yield { row, facts: row.facts }
    if (rows.length < portion) return
    after = rows[rows.length - 1]!.id
  }
}
