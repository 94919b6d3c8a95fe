import type { Knex } from 'knex'
import type { OrderState } from '@/core/order'
import { countAll } from './countAll'
import type { Database } from './database'
import { countOf, type Distribution, facetColumns, isCounted, spreadOf, tagCounts } from './orderCounts'
import { type OrderRow, orderRows, rankOf } from './orders'
import { countFound, unindexed, whereBegins, whereFound } from './engine'

/** Filters of the Desk; lists are "any of". */
export interface DeskFilter {
  readonly states?: readonly OrderState[]
  readonly channels?: readonly string[]
  readonly countries?: readonly string[]
  readonly services?: readonly string[]
  readonly locations?: readonly string[]
  readonly tags?: readonly string[]
  /** Why they need a person, in the few words of the list. */
  readonly reasons?: readonly string[]
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

/**
 * So many orders are counted, listed and spread at most where they have to be looked at one by one: what nobody scrolls
 * to the end of is not waited for. What is kept as a count is exact, whatever it is.
 */
export const mostListed = 10_000
/** Of so many the spread is shown, where it is not kept as a count. */
const mostSampled = 4_000
/** Up to so many orders are found by their filter and then sorted; of more, the sort is walked until a page is full. */
const fewEnough = 30_000

/** By which index orders are found: that of a filter, or that of the sort. */
type Path = keyof DeskFilter | 'sort'

function filtered(db: Database, filter: DeskFilter, path: Path, sorted = ''): Knex.QueryBuilder {
  const query = db('orders')
  // Of several filters one has the index; others are looked at in the row.
  const among = (name: keyof DeskFilter, column: string, values?: readonly string[]): void => {
    if (!values || values.length === 0) return
    const indexed = path === 'search' || path === name || sorted === column
    void query.whereIn(indexed ? `orders.${column}` : unindexed(db, `orders.${column}`), values)
  }
  among('states', 'state', filter.states)
  among('channels', 'channel_id', filter.channels)
  among('countries', 'country', filter.countries)
  among('services', 'service', filter.services)
  among('locations', 'location', filter.locations)
  // The rank follows from the state: where it is the sort, its index begins where they are.
  if (sorted === 'rank' && filter.states?.length)
    void query.whereIn('orders.rank', [...new Set(filter.states.map((state) => rankOf[state]))])
  if (filter.reasons && filter.reasons.length > 0)
    void query.where('orders.state', 'attention').whereIn('orders.reason', filter.reasons)
  if (filter.tags && filter.tags.length > 0) {
    if (path === 'tags')
      void query.whereIn('orders.id', db('order_tags').whereIn('tag', filter.tags).select('order_id'))
    else
      void query.whereExists(
        db('order_tags')
          .select('tag')
          .whereRaw('order_tags.order_id = orders.id')
          .whereIn(unindexed(db, 'order_tags.tag'), filter.tags),
      )
  }
  if (filter.late) void query.whereRaw('orders.days_late > 0')
  if (filter.pinned) void query.whereRaw('orders.pinned = 1')
  if (filter.flagged) void query.whereNotNull('orders.flag')
  if (filter.reported) void query.whereNotNull('orders.report')
  const { words, long } = wordsIn(filter)
  if (long.length > 0) whereFound(query, long, mostListed)
  for (const word of words) if (word.length < 3) whereBegins(query, 'orders.number', word)
  return query
}

/** The words of a search; long enough for the index of texts are those of three letters. */
function wordsIn({ search = '' }: DeskFilter): { words: readonly string[]; long: readonly string[] } {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  return { words, long: words.filter((word) => word.length >= 3) }
}

/** The filters that are set and counted, each with how many orders it leaves by itself; the fewest first. */
async function leaves(db: Database, filter: DeskFilter): Promise<(readonly [keyof DeskFilter, number])[]> {
  const names = [...(Object.keys(facetColumns) as (keyof DeskFilter)[]), 'late', 'pinned'] as const
  const set = names.filter((name) => (Array.isArray(filter[name]) ? filter[name].length > 0 : filter[name]))
  const counted = await Promise.all(
    set.map(async (name) => [name, await countOf(db, { [name]: filter[name] })] as const),
  )
  return counted.sort(([, a], [, b]) => a - b)
}

/** Whether it is by words, or by what few orders have: the database finds its own way to those. */
const isSearched = ({ search, flagged, reported, reasons }: DeskFilter): boolean =>
  search !== undefined || flagged === true || reported === true || Boolean(reasons?.length)

/**
 * The way to a page: by the filter that leaves the fewest, where they are few enough to be sorted; else by the sort.
 */
async function pathTo(db: Database, filter: DeskFilter, sorts: readonly DeskSort[], few = fewEnough): Promise<Path> {
  if (isSearched(filter)) return 'search'
  const { tags, ...counted } = filter
  const [fewest] = await leaves(db, counted)
  const tagged = tags?.length ? await tagCounts(db, tags) : Infinity
  if (tagged <= few && tagged < (fewest?.[1] ?? Infinity)) return 'tags'
  // By rank, the index begins where the states are.
  const byRank = sequence(sorts)[0]!.column === 'rank' && counted.states?.length
  if (!fewest || (byRank && (fewest[0] === 'states' || fewest[1] > 2000))) return 'sort'
  return fewest[1] <= few || (sorts.length > 0 && (await countOf(db, counted)) <= few / 10) ? fewest[0] : 'sort'
}

/** The way to orders in no sequence: by whatever leaves the fewest. */
async function pathToAny(db: Database, filter: DeskFilter): Promise<Path> {
  if (isSearched(filter)) return 'search'
  const [fewest] = await leaves(db, filter)
  const tagged = filter.tags?.length ? await tagCounts(db, filter.tags) : Infinity
  return tagged < (fewest?.[1] ?? Infinity) ? 'tags' : (fewest?.[0] ?? 'sort')
}

/** The sorts, and what decides between equals: within a state the oldest come first, as they wait longest. */
function sequence(sorts: readonly DeskSort[]): readonly DeskSort[] {
  const [first] = sorts
  if (!first || (sorts.length === 1 && first.column === 'rank'))
    return [
      { column: 'rank', down: first?.down ?? false },
      { column: 'placed_at', down: first?.down ?? false },
    ]
  return sorts.length === 1 ? sorts : [...sorts, { column: 'placed_at', down: false }]
}

/** Orders of a filter in their sequence; equals as they came in, or the other way round where it goes downwards. */
async function listed(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  few?: number,
): Promise<() => Knex.QueryBuilder> {
  const path = await pathTo(db, filter, sorts, few)
  const keys = sequence(sorts)
  // An index is walked from either end.
  const last = keys.at(-1)!.down ? 'desc' : 'asc'
  return () => {
    const query = filtered(db, filter, path, path === 'sort' ? keys[0]!.column : '')
    for (const { column, down } of keys) {
      const by = path === 'sort' ? `orders.${column}` : unindexed(db, `orders.${column}`)
      void query.orderBy(by, down ? 'desc' : 'asc')
    }
    return query.orderBy(path === 'sort' ? 'orders.id' : unindexed(db, 'orders.id'), last)
  }
}

/** Orders that a filter leaves, from `offset` on, in the order of the sorts; `most` at most. */
export async function deskPage(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  offset: number,
  most: number,
  /** Up to so many are found by their filter and sorted; a test says otherwise. */
  few?: number,
): Promise<OrderRow[]> {
  const list = await listed(db, filter, sorts, few)
  // The rows are fetched once it is known which they are: what is sorted stays small.
  const ids = ((await list().select('orders.id').offset(offset).limit(most)) as { id: number }[]).map(({ id }) => id)
  const rows = new Map((await orderRows(db, ids)).map((row) => [row.id, row]))
  return ids.flatMap((id) => rows.get(id) ?? [])
}

/** The ids of the first orders that a filter shows, in their sequence. */
export async function deskIds(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  most: number,
): Promise<number[]> {
  const list = await listed(db, filter, sorts)
  return ((await list().select('orders.id').limit(most)) as { id: number }[]).map(({ id }) => id)
}

/**
 * At which place an order is in the list of a filter, from 0; null when the filter leaves it out, or it comes after the
 * last that is listed.
 */
export async function deskPlace(
  db: Database,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  id: number,
): Promise<number | null> {
  const place = (await deskIds(db, filter, sorts, mostListed)).indexOf(id)
  return place === -1 ? null : place
}

/** A number of orders; `more`: there are more than were counted. */
export interface DeskCount {
  readonly n: number
  readonly more: boolean
}
/** How many orders a filter leaves; exactly where that is kept, else as far as orders are listed. */
export async function deskCount(db: Database, filter: DeskFilter): Promise<DeskCount> {
  if (isCounted(filter)) return { n: await countOf(db, filter), more: false }
  const [tag, ...others] = filter.tags ?? []
  if (tag !== undefined && others.length === 0 && isEmpty({ ...filter, tags: undefined }))
    return { n: await tagCounts(db, [tag]), more: false }
  const { words, long } = wordsIn(filter)
  // By words alone, those that hold them are all there is to count.
  if (long.length > 0 && long.length === words.length && isEmpty({ ...filter, search: undefined })) {
    const held = await countFound(db, long, mostListed + 1)
    return { n: Math.min(held, mostListed), more: held > mostListed }
  }
  const path = await pathToAny(db, filter)
  const found = filtered(db, filter, path)
    .select(db.raw('1'))
    .limit(mostListed + 1)
  const n = await countAll(db.from(found.as('found')))
  // Of very many that hold the words, the youngest were looked at.
  const cut = long.length > 0 && (await countFound(db, long, mostListed + 1)) > mostListed
  return { n: Math.min(n, mostListed), more: cut || n > mostListed }
}

const isEmpty = (filter: DeskFilter): boolean =>
  Object.values(filter).every((value) => value === undefined || (Array.isArray(value) && value.length === 0))

export const facets = ['states', 'channels', 'countries', 'services', 'locations'] as const
export type Facet = (typeof facets)[number]

/** How the filtered orders spread over what they can be filtered by. */
export type DeskSpread = Readonly<Record<Facet | 'tags' | 'reasons', readonly Distribution[]>>

/**
 * How the filtered orders spread over each facet; a facet's own filter is left out, so that one sees what else there
 * is. Where a filter is not kept as a count, it is the spread of the first that it leaves.
 */
export async function deskDistribution(db: Database, filter: DeskFilter): Promise<DeskSpread> {
  // Facets without a filter of their own are spread over the same orders, which are looked at once.
  const shared = isCounted(filter) ? null : await sample(db, filter)
  const spread = async (facet: Facet): Promise<readonly Distribution[]> => {
    const others = { ...filter, [facet]: undefined }
    if (isCounted(others)) return spreadOf(db, others, facet)
    const rows = shared && !filter[facet]?.length ? shared : await sample(db, others)
    return counts(rows.map((row) => row[facet]))
  }
  return {
    states: await spread('states'),
    channels: await spread('channels'),
    countries: await spread('countries'),
    services: await spread('services'),
    locations: await spread('locations'),
    tags: await tagSpread(db, filter),
    reasons: await reasonSpread(db, filter),
  }
}

type Sampled = Readonly<Record<Facet | 'reason', string | null>>

/** The first orders that a filter leaves, with what they can be filtered by. */
async function sample(db: Database, filter: DeskFilter): Promise<Sampled[]> {
  const path = await pathToAny(db, filter)
  const columns = Object.fromEntries(facets.map((facet) => [facet, `orders.${facetColumns[facet]}`]))
  return (await filtered(db, filter, path).select('orders.reason', columns).limit(mostSampled)) as Sampled[]
}

/** How often each value is there, the most first; what has no value is left out. */
function counts(values: readonly (string | null)[]): readonly Distribution[] {
  const found = new Map<string, number>()
  for (const value of values) if (value) found.set(value, (found.get(value) ?? 0) + 1)
  return [...found]
    .map(([value, count]) => ({ value, count }))
    .sort((a, b) => b.count - a.count)
    .slice(0, 60)
}

async function reasonSpread(db: Database, filter: DeskFilter): Promise<readonly Distribution[]> {
  const rows = await sample(db, { ...filter, states: ['attention'], reasons: undefined })
  return counts(rows.map(({ reason }) => reason))
}

async function tagSpread(db: Database, filter: DeskFilter): Promise<readonly Distribution[]> {
  const others = { ...filter, tags: undefined }
  if (isEmpty(others))
    return (await db('order_tag_counts')
      .where('n', '>', 0)
      .select({ value: 'tag', count: 'n' })
      .orderBy('n', 'desc')
      .limit(40)) as Distribution[]
  const found = filtered(db, others, await pathToAny(db, others))
    .select('orders.id')
    .limit(mostSampled)
  const rows = (await db
    .from(found.as('first'))
    .join('order_tags', 'order_tags.order_id', 'first.id')
    .select({ value: 'order_tags.tag' })) as { value: string }[]
  return counts(rows.map(({ value }) => value))
}
