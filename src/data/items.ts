import { waitingStates } from '@/core/order'
import type { Database } from './database'
import { insertMany } from './engine'

/** How often a SKU stands in waiting orders, and in orders since a moment. */
export interface ItemUse {
  readonly sku: string
  readonly waiting: number
  readonly recent: number
}

/** The row that says that a day was counted. */
const counted = ''
const nextDay = (day: string): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10)

/** The days of the first and the last count; null before there is any. */
async function countedDays(db: Database): Promise<{ first: string; last: string } | null> {
  const row = (await db('item_days').where({ sku: counted }).min({ first: 'day' }).max({ last: 'day' }).first()) as
    { first: string | null; last: string | null } | undefined
  return row?.first && row.last ? { first: row.first, last: row.last } : null
}

/**
 * Counts the orders of days that are over by SKU, the oldest first, from `since` to the day before `today`; the last
 * two anew, as orders may come in late. Gives how many days were counted, at most `most`.
 */
export async function countItemDays(db: Database, since: string, today: string, most: number): Promise<number> {
  const known = await countedDays(db)
  const from = known && known.first <= since ? nextDay(known.last) : since
  const recent = [2, 1].map((ago) =>
    new Date(Date.parse(`${today}T00:00:00Z`) - ago * 86_400_000).toISOString().slice(0, 10),
  )
  const days = known ? recent.filter((day) => day >= known.first && day <= known.last) : []
  for (let day = from; day < today && days.length < most; day = nextDay(day)) days.push(day)
  for (const day of new Set(days))
    await db.transaction(async (trx) => {
      await trx('item_days').where({ day }).delete()
      const rows = (await trx('orders')
        .join('order_items', 'order_items.order_id', 'orders.id')
        .where('orders.placed_at', '>=', day)
        .where('orders.placed_at', '<', nextDay(day))
        .groupBy('order_items.sku')
        .select('order_items.sku')
        .countDistinct({ n: 'orders.id' })) as { sku: string; n: number }[]
      const uses = rows.filter(({ sku }) => sku !== counted).map(({ sku, n }) => ({ day, sku, n }))
      await insertMany(trx, 'item_days', ['day', 'sku', 'n'], [...uses, { day, sku: counted, n: 0 }], (row) => [
        row.day,
        row.sku,
        row.n,
      ])
    })
  return days.length
}

/**
 * Orders by SKU, those that wait and those since a day; shipments of several orders are counted by their orders. Days
 * that are counted are not looked at again.
 */
export async function itemUses(db: Database, since: string): Promise<ItemUse[]> {
  const known = await countedDays(db)
  const live = known && known.first <= since ? nextDay(known.last) : since
  const uses = new Map<string, { waiting: number; recent: number }>()
  const add = (rows: readonly { sku: string; n: number }[], of: 'waiting' | 'recent'): void => {
    for (const { sku, n } of rows) {
      const use = uses.get(sku) ?? { waiting: 0, recent: 0 }
      use[of] += Number(n)
      uses.set(sku, use)
    }
  }
  const bySku = (orders: ReturnType<Database>): Promise<{ sku: string; n: number }[]> =>
    orders
      .join('order_items', 'order_items.order_id', 'orders.id')
      .groupBy('order_items.sku')
      .select('order_items.sku')
      .countDistinct({ n: 'orders.id' }) as unknown as Promise<{ sku: string; n: number }[]>
  add(await bySku(db('orders').whereIn('orders.state', waitingStates) as ReturnType<Database>), 'waiting')
  add(await bySku(db('orders').where('orders.placed_at', '>=', live) as ReturnType<Database>), 'recent')
  if (live > since)
    add(
      (await db('item_days')
        .where('day', '>=', since)
        .where('day', '<', live)
        .whereNot({ sku: counted })
        .groupBy('sku')
        .select('sku')
        .sum({ n: 'n' })) as { sku: string; n: number }[],
      'recent',
    )
  return [...uses].map(([sku, use]) => ({ sku, ...use }))
}
