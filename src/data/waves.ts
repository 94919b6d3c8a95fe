import type { MinorUnits } from '@/core/units'
import { priorities } from '@/core/rulebook/language'
import type { Database } from './database'
import { skuOfOnlyPiece, standing } from './engine'

/** An order that is ready, with what waves ask of it. */
export interface ReadyOrder {
  readonly id: number
  readonly location: string
  readonly carrier: string
  readonly service: string
  readonly priority: string
  /** The SKU of an order of one piece; empty for others, and where nobody asked. */
  readonly single: string
  readonly cost: MinorUnits
}

/** Orders that are ready to be bought, urgent ones first, then the oldest; with the SKU of single pieces if wanted. */
export async function readyOrders(db: Database, most: number, singles: boolean): Promise<ReadyOrder[]> {
  const rows = (await db('orders')
    .where('orders.state', 'ready')
    .whereNotNull('orders.service')
    .orderBy(['orders.priority', 'orders.placed_at', 'orders.id'])
    .limit(most)
    .select('orders.id', 'location', 'carrier', 'service', 'priority', 'cost', {
      single: singles ? skuOfOnlyPiece(db, 'orders') : db.raw(`''`),
    })) as (Omit<ReadyOrder, 'priority' | 'single'> & { priority: number; single: string | null })[]
  return rows.map(({ priority, single, ...row }) => ({
    ...row,
    ...{ priority: priorities[priority] ?? 'normal', single: single ?? '' },
  }))
}

/** How many orders go one way, in a state. */
export interface WayCount {
  readonly location: string
  readonly service: string
  readonly state: 'ready' | 'attention' | 'held' | 'bought' | 'packed'
  readonly n: number
}

/**
 * What is to be done before cut-offs: orders that wait, and labels that are not handed over, by location and service.
 */
export async function workByWay(db: Database): Promise<WayCount[]> {
  const waiting = (await db('order_counts')
    .whereIn('state', ['ready', 'attention', 'held'])
    .whereNot({ location: '' })
    .whereNot({ service: '' })
    .groupBy('location', 'service', 'state')
    .select('location', 'service', 'state')
    .sum({ n: 'n' })) as (Omit<WayCount, 'n'> & { n: number })[]
  const labels = (await db('labels')
    .whereRaw(standing)
    .whereIn('state', ['queued', 'bought'])
    .groupBy('location', 'service', db.raw('checked_at IS NULL'))
    .select('location', 'service', { open: db.raw('checked_at IS NULL') })
    .count({ n: '*' })) as { location: string; service: string; open: number; n: number }[]
  return [
    ...waiting.map((row) => ({ ...row, n: Number(row.n) })).filter(({ n }) => n > 0),
    ...labels.map(({ location, service, open, n }) => ({
      ...{ location, service, n: Number(n) },
      state: Number(open) === 1 ? ('bought' as const) : ('packed' as const),
    })),
  ]
}

/** How many parcels were packed since a moment, by location. */
export async function packedSince(db: Database, since: string): Promise<Map<string, number>> {
  const rows = (await db('checks')
    .join('labels', 'labels.id', 'checks.label_id')
    .where('checks.state', 'done')
    .where('checks.done_at', '>=', since)
    .groupBy('labels.location')
    .select({ location: 'labels.location' })
    .count({ n: '*' })) as { location: string; n: number }[]
  return new Map(rows.map(({ location, n }) => [location, Number(n)]))
}

/** Says what a batch is called, and until when it has to leave. */
export async function nameBatch(trx: Database, id: number, name: string, leavesBy: string | null): Promise<void> {
  await trx('batches').where({ id }).update({ name, leavesBy })
}
