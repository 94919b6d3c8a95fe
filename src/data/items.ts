import { waitingStates } from '@/core/order'
import type { Database } from './database'

/** How often a SKU stands in waiting orders, and in orders since a moment. */
export interface ItemUse {
  readonly sku: string
  readonly waiting: number
  readonly recent: number
}

/** Orders by SKU, those that wait and those since a moment; shipments of several orders are counted by their orders. */
export async function itemUses(db: Database, since: string): Promise<ItemUse[]> {
  const waiting = waitingStates.map((state) => `'${state}'`).join(', ')
  const rows = (await db('order_items')
    .join('orders', 'orders.id', 'order_items.order_id')
    .where((of) => void of.whereIn('orders.state', waitingStates).orWhere('orders.placed_at', '>=', since))
    .groupBy('order_items.sku')
    .select('order_items.sku', {
      waiting: db.raw(`COUNT(DISTINCT CASE WHEN orders.state IN (${waiting}) THEN orders.id END)`),
      recent: db.raw('COUNT(DISTINCT CASE WHEN orders.placed_at >= ? THEN orders.id END)', [since]),
    })) as { sku: string; waiting: number; recent: number }[]
  return rows.map((row) => ({ sku: row.sku, waiting: Number(row.waiting), recent: Number(row.recent) }))
}
