import type { Knex } from 'knex'
import type { Database } from './database'
import type { DeskFilter } from './desk'

export interface Distribution {
  readonly value: string
  readonly count: number
}

/** The filters whose counts are kept, and their columns. */
export const facetColumns = {
  states: 'state',
  channels: 'channel_id',
  countries: 'country',
  services: 'service',
  locations: 'location',
} as const satisfies Partial<Record<keyof DeskFilter, string>>

/** Whether how many orders a filter leaves is kept, exactly, however many there are. */
export const isCounted = ({ tags, reasons, flagged, reported, search }: DeskFilter): boolean =>
  !tags?.length && !reasons?.length && !flagged && !reported && !search?.trim()

function counted(db: Database, filter: DeskFilter): Knex.QueryBuilder {
  const query = db('order_counts')
  for (const [name, column] of Object.entries(facetColumns) as [keyof typeof facetColumns, string][])
    if (filter[name]?.length) void query.whereIn(column, filter[name])
  if (filter.late) void query.where('late', true)
  if (filter.pinned) void query.where('pinned', true)
  return query
}

/** How many orders a filter leaves, of those that are counted. */
export async function countOf(db: Database, filter: DeskFilter): Promise<number> {
  const [row] = (await counted(db, filter).sum({ n: 'n' })) as { n: number | null }[]
  return Number(row?.n ?? 0)
}

/** How they spread over a facet, the most first; what has no value is left out. */
export async function spreadOf(
  db: Database,
  filter: DeskFilter,
  facet: keyof typeof facetColumns,
): Promise<readonly Distribution[]> {
  const column = facetColumns[facet]
  return (await counted(db, filter)
    .whereNot(column, '')
    .select({ value: column })
    .sum({ count: 'n' })
    .groupBy(column)
    .having(db.raw('SUM(n)') as unknown as string, '>', 0)
    .orderBy('count', 'desc')
    .limit(60)) as Distribution[]
}

/** How many orders have any of these tags; those with several are counted several times. */
export async function tagCounts(db: Database, tags: readonly string[]): Promise<number> {
  const [row] = (await db('order_tag_counts').whereIn('tag', tags).sum({ n: 'n' })) as { n: number | null }[]
  return Number(row?.n ?? 0)
}
