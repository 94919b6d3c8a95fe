import { analyse, deskCount, deskDistribution, deskPage, type Database, type DeskFilter, type DeskSort } from '@/data'

const filters: readonly (readonly [string, DeskFilter])[] = [
  ['no filter', {}],
  ['ready', { states: ['ready'] }],
  ['attention and held', { states: ['attention', 'held'] }],
  ['DE', { countries: ['DE'] }],
  ['NL, Heron Road', { countries: ['NL'], services: ['heron-road'] }],
  ['tag live', { tags: ['live'] }],
  ['late', { late: true }],
  ['late, FR', { late: true, countries: ['FR'] }],
  ['Poznań', { locations: ['poznan'] }],
]
const sorts: readonly DeskSort[] = [
  { column: 'rank', down: false },
  { column: 'placed_at', down: true },
  { column: 'value', down: true },
  { column: 'cost', down: true },
  { column: 'buyer', down: false },
  { column: 'weight', down: true },
  { column: 'days_late', down: true },
  { column: 'country', down: false },
  { column: 'arrives_on', down: true },
  { column: 'number', down: false },
  { column: 'service', down: false },
]
const searches = ['van acker', 'mg-1234', 'tnk-060', 'köln', '9000', 'noor', 'kasia.now', 'prin', 'so', 'ann']

/** Times of the Desk's first page over every filter and sort, and of searches; milliseconds at the server. */
export async function benchDesk(db: Database): Promise<{ page: Times; search: Times; spread: Times }> {
  await analyse(db)
  const page: number[] = []
  for (let round = 0; round < 3; round++)
    for (const [, filter] of filters)
      for (const sort of sorts)
        page.push(await timed(() => Promise.all([deskPage(db, filter, [sort], 0, 100), deskCount(db, filter)])))
  const search: number[] = []
  for (let round = 0; round < 5; round++)
    for (const text of searches)
      search.push(
        await timed(() => Promise.all([deskPage(db, { search: text }, [], 0, 100), deskCount(db, { search: text })])),
      )
  const spread: number[] = []
  for (const [, filter] of filters) spread.push(await timed(() => deskDistribution(db, filter)))
  return { page: summary(page), search: summary(search), spread: summary(spread) }
}

export interface Times {
  readonly median: number
  readonly p95: number
  readonly most: number
}

export async function timed(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now()
  await work()
  return performance.now() - began
}

export function summary(times: readonly number[]): Times {
  const sorted = [...times].sort((a, b) => a - b)
  const at = (share: number): number =>
    Number(sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!.toFixed(1))
  return { median: at(0.5), p95: at(0.95), most: at(1) }
}
