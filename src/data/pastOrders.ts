import { promisify } from 'node:util'
import { deflateRaw, inflateRaw } from 'node:zlib'
import { unshippedStates } from '@/core/order'
import { packPast, pastForm, type PastOrder, unpackPast } from '@/core/rulebook/bulk'
import { chunks, fromJson, toJson, type Database } from './database'
import { insertMany } from './engine'
import { orderStates } from './orders'
import { pinsOf } from './pins'
import { countTrialOrders, ordersInRange, type OrderRange, type Place, rangesOf, type TrialScope } from './trialOrders'

/*
 * Past orders as columns: what deciding needs of the orders of a day, compressed, in parts of some thousand. A trial of
 * a year reads these, part after part, and the books only for the last days and for orders that changed since. Triggers
 * note which ones do (`past_changes`), from before a day is read until it is made again.
 */
const [deflate, inflate] = [promisify(deflateRaw), promisify(inflateRaw)]

/** A day that is kept as columns, and in which making. */
interface KeptPart {
  readonly day: string
  readonly part: number
  readonly maker: string
}

/** Some thousand orders of a trial: of the books, or kept as columns. */
export interface PastPart extends OrderRange {
  readonly from: string
  readonly until: string
  /** How many orders of the trial come before it. */
  readonly before: number
  readonly kept: KeptPart | null
}

const begin = (day: string): string => `${day}T00:00:00.000Z`
const end = (day: string): string => `${day}T23:59:59.999Z`
const dayAfter = (day: string): string => new Date(Date.parse(begin(day)) + 86_400_000).toISOString().slice(0, 10)

/** The parts of about `size` orders that make up a scope of whole days, and how many orders they are. */
export async function partsOf(
  db: Database,
  scope: TrialScope,
  size: number,
): Promise<{ readonly parts: readonly PastPart[]; readonly orders: number }> {
  const kept = (await db('past_days')
    .join('past_parts', 'past_parts.day', 'past_days.day')
    .where('past_days.form', pastForm)
    .where('past_days.day', '>=', scope.from.slice(0, 10))
    .where('past_days.day', '<=', scope.until.slice(0, 10))
    .orderBy([{ column: 'past_parts.day' }, { column: 'past_parts.part' }])
    .select('past_parts.day', 'part', 'past_parts.maker', 'counts', 'placed_at', 'order_id')) as (KeptPart & {
    counts: string
    placedAt: string
    orderId: number
  })[]
  const parts: PastPart[] = []
  let orders = 0
  const ofBooks = async (from: string, until: string): Promise<void> => {
    const part = { ...scope, from, until }
    const count = from <= until ? await countTrialOrders(db, part) : 0
    if (count === 0) return
    const ranges = count > size ? await rangesOf(db, part, size) : [{ after: null, upTo: null }]
    parts.push(...ranges.map((range, i) => ({ ...range, from, until, before: orders + i * size, kept: null })))
    orders += count
  }
  // Up to where the parts go so far.
  let next = scope.from
  let last: Place | null = null
  for (const [i, { day, part, maker, counts, placedAt, orderId }] of kept.entries()) {
    if (part === 0) {
      const before = new Date(Date.parse(begin(day)) - 1).toISOString()
      if (next < begin(day)) await ofBooks(next, before)
      last = null
    }
    const place: Place = { placedAt, id: orderId }
    parts.push({
      ...{ from: begin(day), until: end(day), before: orders, kept: { day, part, maker } },
      ...{ after: last, upTo: kept[i + 1]?.day === day ? place : null },
    })
    orders += countedIn(fromJson<Counts>(counts), scope.channels)
    last = place
    next = begin(dayAfter(day))
  }
  await ofBooks(next, scope.until)
  return { parts, orders }
}

/** How many orders a scope of whole days has; of days that are kept as columns, how many it had when they were made. */
export const countPastOrders = async (db: Database, scope: TrialScope): Promise<number> =>
  (await partsOf(db, scope, Infinity)).orders

/** How many orders of each channel. */
type Counts = Readonly<Record<string, number>>
const countedIn = (counts: Counts, channels: readonly string[]): number =>
  Object.entries(counts).reduce(
    (sum, [channel, n]) => (channels.length === 0 || channels.includes(channel) ? sum + n : sum),
    0,
  )

/** The orders of a part of a scope, with their hand pins, as they are in the books now. */
export async function pastOrders(db: Database, scope: TrialScope, part: PastPart): Promise<PastOrder[]> {
  const within = { ...scope, from: part.from, until: part.until }
  const kept = part.kept && (await keptOrders(db, within, part, part.kept))
  return kept ?? withPins(db, await ordersInRange(db, within, part))
}

/** The orders of a part that is kept; null when it was made anew, or is no more. */
async function keptOrders(
  db: Database,
  scope: TrialScope,
  range: OrderRange,
  { day, part, maker }: KeptPart,
): Promise<PastOrder[] | null> {
  // Before the columns: what changes between the two is in both.
  const changed = new Set(await db('past_changes').where({ day }).pluck<number[]>('order_id'))
  const row = (await db('past_parts').where({ day, part, maker }).first('content')) as
    { content: Uint8Array } | undefined
  if (!row) return null
  const all = unpackPast(await inflate(row.content))
  // What is in files alone cannot be read from the books: it stays as it was packed.
  for (const id of changed.size > 0 ? await inFilesAlone(db, [...changed]) : []) changed.delete(id)
  const { channels } = scope
  const orders =
    changed.size === 0 && channels.length === 0
      ? all
      : all.filter(({ id, order }) => !changed.has(id) && (channels.length === 0 || channels.includes(order.channel)))
  if (changed.size === 0) return orders
  return [...orders, ...(await withPins(db, await ordersInRange(db, scope, range, day)))]
}

/** Of orders, those whose facts are in a file of an old month, and not in the books. */
async function inFilesAlone(db: Database, ids: readonly number[]): Promise<number[]> {
  const found: number[] = []
  for (const part of chunks(ids, 500))
    found.push(
      ...(await db('orders')
        .leftJoin('order_facts', 'order_facts.order_id', 'orders.id')
        .whereIn('orders.id', part)
        .whereNotNull('orders.old_file')
        .whereNull('order_facts.order_id')
        .pluck<number[]>('orders.id')),
    )
  return found
}

/** Days of the orders of a file of old orders whose columns do not have them as they are. */
export async function staleDaysOf(db: Database, file: number): Promise<string[]> {
  const day = 'SUBSTR(orders.placed_at, 1, 10)'
  const rows = (await db('orders')
    .where({ oldFile: file })
    .whereNotIn('state', unshippedStates)
    .whereRaw(
      `(NOT EXISTS (SELECT 1 FROM past_days WHERE past_days.day = ${day} AND past_days.form = ?)
        OR EXISTS (SELECT 1 FROM past_changes WHERE past_changes.day = ${day} AND past_changes.order_id = orders.id))`,
      [pastForm],
    )
    .distinct(db.raw(`${day} AS day`))
    .orderBy('day')) as { day: string }[]
  return rows.map((row) => row.day)
}

async function withPins(db: Database, orders: readonly PastOrder[]): Promise<PastOrder[]> {
  const pins = await pinsOf(
    db,
    orders.map(({ id }) => id),
  )
  return orders.map((one) => {
    const own = pins.get(one.id)
    return own ? { ...one, pins: own } : one
  })
}

/** So many orders are read and packed at once. */
const partSize = 2000

export interface MakingDay {
  /** Asked before each part. */
  readonly goesOn?: () => Promise<boolean>
  /** The orders of the day whose facts are in files alone. */
  readonly old?: () => Promise<readonly Pick<PastOrder, 'id' | 'order'>[]>
  /** Orders of a part. */
  readonly size?: number
}

/**
 * Makes the columns of a day, or makes them anew; false when somebody else began to, later. Whoever changes an order
 * meanwhile is noted: the trial reads that one from the books.
 */
export async function makePastDay(
  db: Database,
  day: string,
  maker: string,
  now: string,
  { goesOn = () => Promise.resolve(true), old = () => Promise.resolve([]), size = partSize }: MakingDay = {},
): Promise<boolean> {
  await db.transaction(async (trx) => {
    await trx('past_days').insert({ day, form: 0, madeAt: now, orders: 0, maker }).onConflict('day').merge(['maker'])
    await trx('past_changes')
      .where({ day })
      .update({ seen: trx.ref('times') })
  })
  const scope: TrialScope = { without: unshippedStates, from: begin(day), until: end(day), channels: [] }
  const parts: { counts: Counts; place: Place; content: Uint8Array }[] = []
  let orders = 0
  const add = async (part: readonly PastOrder[], place: Place): Promise<void> => {
    const counts: Record<string, number> = {}
    for (const { order } of part) counts[order.channel] = (counts[order.channel] ?? 0) + 1
    parts.push({ counts, place, content: await deflate(packPast(await withPins(db, part))) })
    orders += part.length
  }
  let place: Place = { placedAt: begin(day), id: 0 }
  for (const range of await rangesOf(db, scope, size)) {
    if (!(await goesOn())) return false
    const part = await ordersInRange(db, scope, range)
    const last = part.at(-1)
    if (!last) continue
    place = { placedAt: last.order.placedAt, id: last.id }
    await add(part, place)
  }
  // They are behind the others, wherever they were placed: no order that comes late is looked for between them.
  const gone = await old()
  const states = new Map(
    (
      await orderStates(
        db,
        gone.map(({ id }) => id),
      )
    ).map(({ id, state }) => [id, state]),
  )
  const shipped = gone.flatMap(({ id, order }): PastOrder[] => {
    const state = states.get(id)
    return state && !unshippedStates.includes(state) ? [{ id, state, order }] : []
  })
  for (const part of chunks(shipped, size)) await add(part, place)
  return db.transaction(async (trx) => {
    if ((await trx('past_days').where({ day, maker }).update({ form: pastForm, madeAt: now, orders })) === 0)
      return false
    await trx('past_parts').where({ day }).delete()
    await insertMany(
      trx,
      'past_parts',
      ['day', 'part', 'maker', 'counts', 'placed_at', 'order_id', 'content'],
      parts,
      ({ counts, place, content }, i) => [day, i, maker, toJson(counts), place.placedAt, place.id, content],
    )
    await trx('past_changes').where({ day }).where('seen', trx.ref('times')).delete()
    return true
  })
}

/** Of so many orders of a day may one have changed before its columns are made anew. */
const fewOf = 100

/**
 * Days before `until` whose columns are to be made: without any, of another form, or with many orders that changed
 * since. The youngest first, as most trials look at them; at most so many.
 */
export async function pastDaysToMake(db: Database, until: string, most: number): Promise<string[]> {
  const known = (await db('past_days').select('day', 'form', 'orders')) as {
    day: string
    form: number
    orders: number
  }[]
  const changes = new Map(
    ((await db('past_changes').groupBy('day').select('day').count({ n: '*' })) as { day: string; n: number }[]).map(
      ({ day, n }) => [day, Number(n)],
    ),
  )
  const kept = new Set(
    known
      .filter(({ day, form, orders }) => form === pastForm && (changes.get(day) ?? 0) * fewOf <= orders)
      .map(({ day }) => day),
  )
  const days: string[] = []
  for (let before = begin(until); days.length < most;) {
    const [row] = (await db('orders').where('placed_at', '<', before).max({ at: 'placed_at' })) as {
      at: string | null
    }[]
    if (!row?.at) break
    const day = row.at.slice(0, 10)
    if (!kept.has(day)) days.push(day)
    before = begin(day)
  }
  return days
}
