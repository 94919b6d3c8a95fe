import type { Knex } from 'knex'
import type { OrderState } from '@/core/order'
import type { Database } from './database'
import type { OrderRow } from './orders'
import { whereFound } from './sqliteOnly'

/** Filters of the Desk; lists are "any of". */
export interface DeskFilter {
  readonly states?: readonly OrderState[]
  readonly channels?: readonly string[]
  readonly countries?: readonly string[]
  readonly services?: readonly string[]
  readonly locations?: readonly string[]
  readonly tags?: readonly string[]
  readonly late?: boolean
  readonly pinned?: boolean
  readonly flagged?: boolean
  /** A customer says that something is wrong. */
  readonly reported?: boolean
  readonly search?: string
}

export const deskColumns = [
  'rank',
  'placed_at',
  'promisedBy',
  'number',
  'buyer',
  'country',
  'value',
  'weight',
  'service',
  'cost',
  'arrives_on',
  'days_late',
  'channelId',
] as const
export interface DeskSort {
  readonly column: (typeof deskColumns)[number]
  readonly down: boolean
}

function filtered(db: Database, filter: DeskFilter): Knex.QueryBuilder {
  const query = db('orders')
  const among = (column: string, values?: readonly string[]): void =>
    void (values && values.length > 0 && query.whereIn(column, values))
  among('orders.state', filter.states)
  among('orders.channel_id', filter.channels)
  among('orders.country', filter.countries)
  among('orders.service', filter.services)
  among('orders.location', filter.locations)
  if (filter.tags && filter.tags.length > 0)
    void query.whereExists(
      db('order_tags').select('tag').whereRaw('order_tags.order_id = orders.id').whereIn('tag', filter.tags),
    )
  if (filter.late) void query.where('orders.days_late', '>', 0)
  if (filter.pinned) void query.where('orders.pinned', true)
  if (filter.flagged) void query.whereNotNull('orders.flag')
  if (filter.reported) void query.whereNotNull('orders.report')
  const words = (filter.search ?? '').toLowerCase().split(/\s+/).filter(Boolean)
  const long = words.filter((word) => word.length >= 3)
  if (long.length > 0) whereFound(query, long)
  for (const word of words)
    if (word.length < 3) void query.where('orders.number', 'like', `${word.replace(/[%_]/g, '')}%`)
  return query
}

/** Orders that a filter leaves, from `offset` on, in the order of the sorts; `most` at most. */
export async function deskPage(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  offset: number,
  most: number,
): Promise<OrderRow[]> {
  return filtered(db, filter).select('orders.*').orderBy(sequence(sorts)).offset(offset).limit(most)
}

/** The sorts, and what decides between equals: within a state the oldest come first, as they wait longest. */
const sequence = (sorts: readonly DeskSort[]): { column: string; order: 'asc' | 'desc' }[] => [
  ...(sorts.length > 0 ? sorts : [{ column: 'rank' as const, down: false }]).map(({ column, down }) => ({
    column: `orders.${column}`,
    order: down ? ('desc' as const) : ('asc' as const),
  })),
  ...(sorts.some(({ column }) => column === 'placed_at')
    ? []
    : [{ column: 'orders.placed_at', order: 'asc' as const }]),
  { column: 'orders.id', order: 'asc' },
]

/** At which place an order is in the list of a filter, from 0; null when the filter leaves it out. */
export async function deskPlace(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  id: number,
): Promise<number | null> {
  const numbered = filtered(db, filter)
    .select('orders.id')
    .rowNumber('place', (by) => void by.orderBy(sequence(sorts)))
  const row = (await db.from(numbered.as('numbered')).where({ id }).first('place')) as { place: number } | undefined
  return row ? row.place - 1 : null
}

/** How many orders a filter leaves. */
export async function deskCount(db: Database, filter: DeskFilter): Promise<number> {
  const [row] = (await filtered(db, filter).count({ n: '*' })) as { n: number }[]
  return Number(row?.n ?? 0)
}

export interface Distribution {
  readonly value: string
  readonly count: number
}
export const facets = ['state', 'channelId', 'country', 'service', 'location'] as const
export type Facet = (typeof facets)[number]

const facetFilter: Readonly<Record<Facet, keyof DeskFilter>> = {
  state: 'states',
  channelId: 'channels',
  country: 'countries',
  service: 'services',
  location: 'locations',
}

/**
 * How the filtered orders spread over each facet; a facet's own filter is left out, so that one sees what else there
 * is.
 */
export async function deskDistribution(
  db: Database,
  filter: DeskFilter,
): Promise<Record<Facet | 'tag', Distribution[]>> {
  const spread = async (facet: Facet): Promise<Distribution[]> => {
    const rows = (await filtered(db, { ...filter, [facetFilter[facet]]: undefined })
      .select({ value: `orders.${facet}` })
      .count({ count: '*' })
      .groupBy(`orders.${facet}`)
      .orderBy('count', 'desc')
      .limit(60)) as Distribution[]
    return rows.filter((row) => row.value !== null && row.value !== '')
  }
  const others = Object.entries(filter).some(([name, value]) => name !== 'tags' && value !== undefined)
  const tagged = others
    ? filtered(db, { ...filter, tags: undefined }).join('order_tags', 'order_tags.order_id', 'orders.id')
    : (db('order_tags') as Knex.QueryBuilder)
  const tags = (await tagged
    .select({ value: 'order_tags.tag' })
    .count({ count: '*' })
    .groupBy('order_tags.tag')
    .orderBy('count', 'desc')
    .limit(40)) as Distribution[]
  return {
    state: await spread('state'),
    channelId: await spread('channelId'),
    country: await spread('country'),
    service: await spread('service'),
    location: await spread('location'),
    tag: tags,
  }
}

/** The ids of everything that a filter shows, in the Desk's order; at most `most`. */
export async function deskIds(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  most: number,
): Promise<number[]> {
  return (await filtered(db, filter).select('orders.id').orderBy(sequence(sorts)).limit(most)).map(
    (row: { id: number }) => row.id,
  )
}
