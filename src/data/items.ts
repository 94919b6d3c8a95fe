import { waitingStates } from '@/core/order'
import type { Database } from './database'

/** How often a SKU stands in waiting orders, and in orders since a moment. */
export interface ItemUse {
  readonly sku: string
  readonly waiting: number
  readonly recent: number
}

/** Orders by SKU, read from their facts; the lists are short, the facts are not, so only what is counted is taken from them. */
export async function itemUses(db: Database, since: string): Promise<ItemUse[]> {
  const uses = new Map<string, { sku: string; waiting: number; recent: number }>()
  for (let after = 0; ;) {
    const rows = (await db('orders').join('order_facts', 'order_facts.order_id', 'orders.id').where('orders.id', '>', after).where((of) => void of.whereIn('orders.state', waitingStates).orWhere('orders.placed_at', '>=', since)).orderBy('orders.id').limit(1000).select('orders.id', 'orders.state', 'orders.placed_at', 'order_facts.facts')) as { id: number; state: string; placed_at: string; facts: string }[]
    if (rows.length === 0) return [...uses.values()]
    for (const row of rows) {
      const skus = new Set((JSON.parse(row.facts) as { items: { sku: string }[] }).items.map(({ sku }) => sku))
      for (const sku of skus) {
        const use = uses.get(sku) ?? { sku, waiting: 0, recent: 0 }
        if ((waitingStates as readonly string[]).includes(row.state)) use.waiting++
        if (row.placed_at >= since) use.recent++
        uses.set(sku, use)
      }
    }
    after = rows[rows.length - 1]!.id
    await new Promise((resolve) => setImmediate(resolve))
  }
}
