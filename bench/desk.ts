import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  addChannel,
  analyse,
  countItemDays,
  itemUses,
  deskCount,
  deskDistribution,
  deskPage,
  type Database,
  type DeskFilter,
  type DeskSort,
  openDatabase,
  rankOf,
} from '@/data'

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

export interface DeskTimes {
  readonly page: Times
  readonly search: Times
  readonly spread: Times
  /** The slowest page, and of what. */
  readonly slowest: string
}

/**
 * Times of the Desk's first page over every filter and sort, of searches, and of distributions; milliseconds at the
 * server.
 */
export async function benchDesk(db: Database): Promise<DeskTimes> {
  await analyse(db)
  const page: number[] = []
  let slowest = { took: 0, what: '' }
  for (let round = 0; round < 3; round++)
    for (const [name, filter] of filters)
      for (const sort of sorts) {
        const took = await timed(() => Promise.all([deskPage(db, filter, [sort], 0, 100), deskCount(db, filter)]))
        page.push(took)
        if (took > slowest.took) slowest = { took, what: `${name}, by ${sort.column}${sort.down ? ' down' : ''}` }
      }
  const search: number[] = []
  for (let round = 0; round < 5; round++)
    for (const text of searches)
      search.push(
        await timed(() => Promise.all([deskPage(db, { search: text }, [], 0, 100), deskCount(db, { search: text })])),
      )
  const spread: number[] = []
  for (const [, filter] of filters) spread.push(await timed(() => deskDistribution(db, filter)))
  return { page: summary(page), search: summary(search), spread: summary(spread), slowest: slowest.what }
}

/** SQL: one of a list, as often as its weight says, by a number that is spread evenly. */
const weighted = (list: readonly (readonly [value: string, weight: number])[], by: string): string => {
  const total = list.reduce((sum, [, weight]) => sum + weight, 0)
  let upTo = 0
  const cases = list.map(([value, weight]) => `WHEN (${by}) % ${total} < ${(upTo += weight)} THEN ${value}`)
  return `CASE ${cases.join(' ')} END`
}
const text = (value: string): string => `'${value}'`
const states = ['delivered', 'dispatched', 'cancelled', 'labelled', 'ready', 'held', 'attention'] as const

/**
 * The Desk over so many orders, made by the database itself: most delivered, spread as a year of the demo's world would
 * be.
 */
export async function benchDeskOf(
  orders: number,
  /** Of a database of PostgreSQL; without it the books are a file. */
  address?: string,
): Promise<DeskTimes & { readonly counted: number; readonly items: Times }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-desk-bench-'))
  const db = await openDatabase(address ?? join(folder, 'gharry.db'))
  if (!address) {
    await db.raw('PRAGMA foreign_keys = OFF')
    await db.raw('PRAGMA synchronous = OFF')
  }
  for (const id of ['mossgill-shop', 'tallow-lane', 'quillmart'])
    await addChannel(db, { ...{ id, name: id, kind: 'keyed-shop' }, ...{ tellWhen: 'bought', everyMinutes: 0 } })
  await makeOrders(db, orders, address !== undefined)
  const times = await benchDesk(db)
  const last = new Date((1_764_000_000 + orders * 31) * 1000)
  const since = new Date(last.getTime() - 90 * 86_400_000).toISOString().slice(0, 10)
  const today = last.toISOString().slice(0, 10)
  const counted = await timed(() => countItemDays(db, since, today, 100))
  const items: number[] = []
  for (let round = 0; round < 5; round++) items.push(await timed(() => itemUses(db, since)))
  await db.destroy()
  rmSync(folder, { recursive: true })
  return { ...times, counted, items: summary(items) }
}

/** SQL: a number that is spread evenly, another one for each purpose. */
const spreadBy = (prime: number): string => `((i * ${prime}) % 1000003)`
const state = weightedTexts(
  { delivered: 900, dispatched: 40, cancelled: 30, labelled: 10, ready: 15, held: 3, attention: 2 },
  7919,
)
const rank = `CASE ${state} ${states.map((name) => `WHEN '${name}' THEN ${rankOf[name]}`).join(' ')} END`
const country = weightedTexts({ BE: 35, NL: 25, DE: 18, FR: 10, PL: 6, GB: 4, US: 2 }, 104_729)
const service = weightedTexts(
  { 'heron-road': 55, 'corvid-letter': 20, 'corvid-parcel': 12, 'northlight-day': 8, 'bramble-freight': 5 },
  1_299_709,
)
const location = weightedTexts({ ghent: 80, poznan: 15, leeds: 5 }, 15_485_863)
const channel = weightedTexts({ 'mossgill-shop': 50, 'tallow-lane': 30, quillmart: 20 }, 32_452_843)

function weightedTexts(weights: Readonly<Record<string, number>>, prime: number): string {
  return weighted(
    Object.entries(weights).map(([value, weight]) => [text(value), weight] as const),
    spreadBy(prime),
  )
}
function anyOf(list: readonly string[], prime: number): string {
  return weighted(
    list.map((name) => [text(name), 1] as const),
    spreadBy(prime),
  )
}

/** Fills the books, as many orders at a time as no database minds. */
async function makeOrders(db: Database, orders: number, onPostgres: boolean): Promise<void> {
  const buyer = `${anyOf(names, 86_028_121)} || ' ' || ${anyOf(families, 122_949_823)}`
  // Texts of times, and the numbers of all orders, as the database says them.
  const moment = (seconds: string): string =>
    onPostgres
      ? `TO_CHAR(TO_TIMESTAMP(${seconds}) AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`
      : `STRFTIME('%Y-%m-%dT%H:%M:%fZ', ${seconds}, 'unixepoch')`
  const placed = moment('1764000000 + i * 31')
  const day = (ahead: number): string => `SUBSTR(${moment(`1764000000 + i * 31 + ${ahead} * 86400`)}, 1, 10)`
  const numbers = (from: number, to: number): string =>
    onPostgres
      ? `WITH n(i) AS (SELECT GENERATE_SERIES(${from}::bigint, ${to}))`
      : `WITH RECURSIVE n(i) AS (SELECT ${from} UNION ALL SELECT i + 1 FROM n WHERE i < ${to})`
  // All in one transaction would leave a million old versions of each count.
  for (let from = 1; from <= orders; from += 5000) {
    const to = Math.min(orders, from + 4999)
    const own = `orders WHERE id BETWEEN ${from} AND ${to}`
    await db.transaction(async (trx) => {
      await trx.raw(
        `${numbers(from, to)} INSERT INTO orders (id, channel_id, remote_id, number, state, rank, placed_at, promised_by, buyer, email, country, city, wording, quantity, value, weight, service, carrier, location, cost, arrives_on, days_late, pinned, fact_hash, imported_at)
       SELECT i, ${channel}, 'r' || i, 'MG-' || (1000000 + i), ${state}, ${rank}, ${placed}, ${day(3)}, ${buyer}, 'buyer' || i || '@post.example', ${country}, ${anyOf(cities, 49_979_687)}, '', 1 + i % 4, 500 + ${spreadBy(611_953)} % 90000, 50 + ${spreadBy(746_773)} % 30000, ${service}, 'heron', ${location}, 300 + ${spreadBy(882_377)} % 6000, ${day(2)}, CASE WHEN ${spreadBy(224_737)} % 100 < 3 THEN 1 + i % 4 ELSE -(i % 3) END, CASE WHEN ${spreadBy(350_377)} % 500 = 0 THEN 1 ELSE 0 END, '', ${placed} FROM n`,
      )
      await trx.raw(
        `INSERT INTO order_search (${onPostgres ? 'id' : 'rowid'}, body) SELECT id, LOWER(number || ' ' || buyer || ' ' || email || ' ' || city || ' tnk-060 ' || (9000 + id % 900)) FROM ${own}`,
      )
      await trx.raw(
        `INSERT INTO order_items (order_id, sku, quantity) SELECT id, 'SKU-' || (id * 7919 % 400), 1 FROM ${own}`,
      )
      await trx.raw(`INSERT INTO order_tags (order_id, tag) SELECT id, 'live' FROM ${own} AND id % 3 = 0`)
      await trx.raw(`INSERT INTO order_tags (order_id, tag) SELECT id, 'fragile' FROM ${own} AND id % 7 = 0`)
    })
  }
}

const names = [
  'Ada',
  'Noor',
  'Tomasz',
  'Claire',
  'Milan',
  'Zoë',
  'Kasia',
  'Freya',
  'Hanna',
  'Ann',
  'Femke',
  'Bram',
  'Ines',
]
const families = [
  'Van Acker',
  'De Smet',
  'Nowak',
  'Zieliński',
  'Thwaite',
  'Rossi',
  'Prins',
  'Janssens',
  'Sørensen',
  'Maes',
]
const cities = ['Gent', 'Utrecht', 'Köln', 'Lille', 'Poznań', 'Leeds', 'Antwerpen', 'Lyon', 'Bern', 'Oslo', 'Malmö']

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
