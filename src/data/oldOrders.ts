import type { Order } from '@/core/order'
import type { Routed } from '@/core/rulebook/language'
import { countAll } from './countAll'
import { chunks, fromJson, type Database } from './database'
import type { TrackingEventRow } from './parcelNews'

/*
 * Orders of old months: their rows stay in the books, so that they are found and counted; their facts, decisions with
 * trails, histories and news of parcels are in files, some hundred orders in each.
 */

/** What of an order is in a file, as a line of JSON. Texts of JSON stay as they are in the books, to the letter. */
export interface OldOrder {
  readonly id: number
  readonly facts: string
  readonly decision: OldDecision | null
  readonly log: readonly { readonly at: string; readonly author: string; readonly sentence: string }[]
  readonly events: readonly TrackingEventRow[]
}

interface OldDecision {
  readonly edition: number
  readonly world: number
  readonly decidedAt: string
  readonly outcome: string
}

/** A file of old orders. */
export interface OldFile {
  readonly id: number
  readonly month: string
  readonly name: string
  readonly orders: number
  readonly bytes: number
  readonly hash: string
  readonly writtenAt: string
  readonly takenOutAt: string | null
}

/**
 * Orders placed before a day of which a file may be made, the oldest first and all of one month: nothing of them says
 * any more whose they were, and each is in no file yet.
 */
export async function ordersForFile(db: Database, before: string, most: number): Promise<number[]> {
  const all = (): ReturnType<Database> =>
    db('orders')
      .whereNotNull('forgotten_at')
      .whereNull('old_file')
      .where('placed_at', '<', before) as ReturnType<Database>
  const [oldest] = (await all().min({ at: 'placed_at' })) as { at: string | null }[]
  if (!oldest?.at) return []
  const month = oldest.at.slice(0, 7)
  return all()
    .where('placed_at', '<', `${month}-32`)
    .orderBy([{ column: 'placed_at' }, { column: 'id' }])
    .limit(most)
    .pluck<number[]>('id')
}

/** How many orders placed before a day would be moved, but still say whose they were. */
export const countNamed = (db: Database, before: string): Promise<number> =>
  countAll(db('orders').whereNull('forgotten_at').whereNull('old_file').where('placed_at', '<', before))

/** What is moved of orders, as it is in the books, by ascending id; orders without facts are left out. */
export async function wholeOrders(db: Database, ids: readonly number[]): Promise<OldOrder[]> {
  const found: OldOrder[] = []
  for (const part of chunks(
    [...ids].sort((a, b) => a - b),
    300,
  )) {
    const facts = (await db('order_facts').whereIn('order_id', part).orderBy('order_id')) as {
      orderId: number
      facts: string
    }[]
    const decisions = (await db('decisions').whereIn('order_id', part)) as (OldDecision & { orderId: number })[]
    const log = (await db('order_log').whereIn('order_id', part).orderBy('id')) as {
      orderId: number
      at: string
      author: string
      sentence: string
    }[]
    const events = (await db('tracking_events')
      .join('labels', 'labels.id', 'tracking_events.label_id')
      .whereIn('labels.order_id', part)
      .orderBy('tracking_events.id')
      .select('labels.order_id', 'tracking_events.label_id', 'tracking_events.position', 'tracking_events.remote_id')
      .select(
        'tracking_events.at',
        'tracking_events.status',
        'tracking_events.place',
        'tracking_events.text',
      )) as (TrackingEventRow & {
      orderId: number
    })[]
    for (const { orderId, facts: text } of facts) {
      const decision = decisions.find((one) => one.orderId === orderId)
      found.push({
        id: orderId,
        facts: text,
        decision: decision
          ? {
              ...{ edition: decision.edition, world: decision.world },
              ...{ decidedAt: decision.decidedAt, outcome: decision.outcome },
            }
          : null,
        log: log.filter((one) => one.orderId === orderId).map(({ at, author, sentence }) => ({ at, author, sentence })),
        events: events
          .filter((one) => one.orderId === orderId)
          .map(({ labelId, position, remoteId, at, status, place, text: news }) => ({
            ...{ labelId, position, remoteId, at, status, place },
            text: news,
          })),
      })
    }
  }
  return found
}

/** Notes a file that was written, and which orders are in it. */
export async function noteOldFile(
  trx: Database,
  file: Omit<OldFile, 'id' | 'takenOutAt'>,
  ids: readonly number[],
): Promise<void> {
  const [row] = (await trx('old_files').insert(file).returning('id')) as { id: number }[]
  // Whoever wrote a file of the same orders meanwhile was first.
  for (const part of chunks(ids, 500))
    await trx('orders').whereIn('id', part).whereNull('old_file').update({ oldFile: row!.id })
}

/** The files whose orders are still in the books too, written before a moment. */
export const filesToTakeOut = (db: Database, before: string): Promise<OldFile[]> =>
  db('old_files').whereNull('taken_out_at').where('written_at', '<', before).orderBy('id')

/**
 * Takes out of the books what is in a file, in a transaction. What changed since it was written stays, and is not of the
 * file any more; what is of another file, or was taken out already, is left alone.
 */
export async function takeOut(trx: Database, file: OldFile, lines: readonly OldOrder[], now: string): Promise<void> {
  const own = new Set(await trx('orders').where({ oldFile: file.id }).pluck<number[]>('id'))
  const written = new Map(lines.filter(({ id }) => own.has(id)).map((line) => [line.id, JSON.stringify(line)]))
  const inBooks = await wholeOrders(trx, [...written.keys()])
  const isSame = (one: OldOrder): boolean => JSON.stringify(one) === written.get(one.id)
  const same = inBooks.filter(isSame).map(({ id }) => id)
  const others = inBooks.filter((one) => !isSame(one)).map(({ id }) => id)
  for (const part of chunks(others, 500)) await trx('orders').whereIn('id', part).update({ oldFile: null })
  for (const part of chunks(same, 500)) {
    await trx('tracking_events').whereIn('label_id', trx('labels').whereIn('order_id', part).select('id')).delete()
    for (const table of ['order_facts', 'decisions', 'order_log']) await trx(table).whereIn('order_id', part).delete()
  }
  await trx('old_files')
    .where({ id: file.id })
    .whereNull('taken_out_at')
    .update({ takenOutAt: now, orders: same.length })
}

/** The file that an order is in; undefined when it is in none. */
export async function oldFileOf(db: Database, order: number): Promise<OldFile | undefined> {
  return db('old_files')
    .join('orders', 'orders.old_file', 'old_files.id')
    .where('orders.id', order)
    .first('old_files.*') as Promise<OldFile | undefined>
}

/** The files that orders placed on a day are in, and which orders those are. */
export async function oldFilesOfDay(db: Database, day: string): Promise<{ file: OldFile; orders: Set<number> }[]> {
  const rows = (await db('orders')
    .leftJoin('order_facts', 'order_facts.order_id', 'orders.id')
    .whereBetween('orders.placed_at', [`${day}T00:00:00.000Z`, `${day}T23:59:59.999Z`])
    .whereNotNull('orders.old_file')
    .whereNull('order_facts.order_id')
    .select('orders.id', 'orders.old_file')) as { id: number; oldFile: number }[]
  const files = (await db('old_files').whereIn('id', [...new Set(rows.map(({ oldFile }) => oldFile))])) as OldFile[]
  return files.map((file) => ({
    file,
    orders: new Set(rows.filter(({ oldFile }) => oldFile === file.id).map(({ id }) => id)),
  }))
}

/** How much is in files, by month. */
export async function oldMonths(db: Database): Promise<{ month: string; orders: number; bytes: number }[]> {
  const rows = (await db('old_files')
    .whereNotNull('taken_out_at')
    .groupBy('month')
    .orderBy('month')
    .select('month')
    .sum({ orders: 'orders', bytes: 'bytes' })) as { month: string; orders: number; bytes: number }[]
  return rows.map(({ month, orders, bytes }) => ({ month, orders: Number(orders), bytes: Number(bytes) }))
}

/** What a line of a file says, as it is read from the books: the order, and what was decided for it last. */
export const readOldOrder = ({
  facts,
  decision,
}: OldOrder): {
  readonly order: Order
  readonly decided: { edition: number; world: number; decidedAt: string; outcome: Routed } | undefined
} => ({
  order: fromJson<Order>(facts),
  decided: decision ? { ...decision, outcome: fromJson<Routed>(decision.outcome) } : undefined,
})
