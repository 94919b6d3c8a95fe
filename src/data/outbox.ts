import { chunks, type Database } from './database'

/** How the sending of a message to somebody outside stands, whoever it is for. */
export interface OutboxRow {
  readonly id: number
  readonly attempts: number
  readonly leaseOwner?: string | null
  readonly nextAt: string
  readonly problem: string | null
  readonly madeAt: string
  readonly sentAt: string | null
}

/** Tracking posts (to channels) and notices (to customers): written with their cause, delivered by the worker. */
export interface PostRow extends OutboxRow {
  readonly kind: 'fulfil' | 'withdraw' | 'refund'
  readonly orderId: number
  readonly labelId: number
  /** Which parcel of the shipment; 1 is the first. */
  readonly parcel: number
  readonly channelId: string
  readonly key: string
  readonly state: 'queued' | 'sent' | 'failed' | 'dropped'
  /** Refunds: for which return, and how much, in minor units of the order's currency. */
  readonly returnId: number | null
  readonly amount: number | null
  /** When it was read back from the channel, and what the channel shows otherwise; null when it shows the same. */
  readonly checkedAt: string | null
  readonly differs: string | null
}

export interface NoticeRow extends OutboxRow {
  readonly orderId: number
  readonly labelId: number
  /** An e-mail address or a telephone number. */
  readonly recipient: string
  readonly key: string
  readonly state: 'waiting' | 'sent' | 'failed' | 'dropped'
  /** What is said (`core/telling`). */
  readonly step: string
  readonly medium: 'mail' | 'text'
  /** Which parcel of the shipment it is about; 0 is all of them. */
  readonly position: number
  /** A day that it names, and a place; empty for none. */
  readonly day: string
  readonly place: string
  /** The return that it is about. */
  readonly returnId: number | null
  /** By which name the other side knows it, and what it said became of it. */
  readonly receipt: string | null
  readonly received: string | null
}
export type NewNotice = Pick<NoticeRow, 'orderId' | 'labelId' | 'recipient' | 'key'> & {
  /** Not before. */
  readonly sendAfter: string
} & Partial<Pick<NoticeRow, 'step' | 'medium' | 'position' | 'day' | 'place' | 'returnId'>>

/** Queues posts to channels; one of the same key is queued once. */
export async function addPosts(
  db: Database,
  posts: readonly (Pick<PostRow, 'kind' | 'orderId' | 'labelId' | 'parcel' | 'channelId' | 'key'> &
    Partial<Pick<PostRow, 'returnId' | 'amount'>>)[],
  now: string,
): Promise<void> {
  for (const part of chunks(posts, 100))
    await db('posts')
      .insert(part.map((post) => ({ ...post, state: 'queued', madeAt: now, nextAt: now })))
      .onConflict('key')
      .ignore()
}

/** Queues notices to customers; one of the same key is queued once. */
export async function addNotices(db: Database, notices: readonly NewNotice[], now: string): Promise<void> {
  for (const part of chunks(notices, 100))
    await db('notices')
      .insert(part.map(({ sendAfter, ...notice }) => ({ ...notice, state: 'waiting', madeAt: now, nextAt: sendAfter })))
      .onConflict('key')
      .ignore()
}

/** Drops what has not gone out yet for a label; gives the posts that have, or may have: those need a withdrawal. */
export async function dropUnsent(
  db: Database,
  label: number,
): Promise<{ sentPosts: readonly Pick<PostRow, 'parcel' | 'orderId' | 'channelId'>[] }> {
  const waiting = (): ReturnType<Database> =>
    db('notices').where({ labelId: label, state: 'waiting' }) as ReturnType<Database>
  // Of a mail whose answer was lost nobody knows whether it arrived.
  await waiting()
    .where((q) => void q.where('attempts', '>', 0).orWhereNotNull('lease_until'))
    .update({
      state: 'dropped',
      problem: 'The label was voided; an earlier try may have reached the customer all the same.',
      leaseUntil: null,
    })
  await waiting().update({ state: 'dropped', problem: 'The label was voided first.', leaseUntil: null })
  await db('posts')
    .where({ labelId: label, kind: 'fulfil', state: 'queued', attempts: 0 })
    .whereNull('lease_until')
    .update({ state: 'dropped', problem: 'The label was voided first.' })
  return {
    sentPosts: await db('posts')
      .where({ labelId: label, kind: 'fulfil' })
      .whereNot({ state: 'dropped' })
      .select('parcel', 'order_id', 'channel_id')
      .orderBy(['parcel', 'order_id']),
  }
}

/** Posts about an order, and those for its label about the orders in it. */
export const postsOfOrder = (db: Database, order: number): Promise<PostRow[]> =>
  db('posts')
    .where({ orderId: order })
    .orWhereIn('label_id', db('labels').where({ orderId: order }).select('id'))
    .orderBy('id')
/** All notices about an order. */
export const noticesOfOrder = (db: Database, order: number): Promise<NoticeRow[]> =>
  db('notices').where({ orderId: order }).orderBy('id')

/** Notices to customers about orders that wait to be sent, the oldest first. */
export async function waitingNotices(
  db: Database,
  orders: readonly number[],
  medium?: NoticeRow['medium'],
): Promise<NoticeRow[]> {
  const rows: NoticeRow[] = []
  for (const part of chunks(orders, 500))
    rows.push(
      ...((await db('notices')
        .whereIn('order_id', part)
        .where({ state: 'waiting', ...(medium ? { medium } : {}) })
        .orderBy('id')) as NoticeRow[]),
    )
  return rows
}

/** When a customer was last written to about an order by a medium; null when never. */
export async function lastNotice(db: Database, order: number, medium: NoticeRow['medium']): Promise<string | null> {
  const row = (await db('notices').where({ orderId: order, medium, state: 'sent' }).max({ at: 'sent_at' }).first()) as
    { at: string | null } | undefined
  return row?.at ?? null
}

/** Of labels of different orders those whose customers were told another number of the order, which is dead now. */
export async function toldDeadNumbers(
  db: Database,
  labels: readonly Pick<NoticeRow, 'orderId' | 'labelId'>[],
): Promise<ReadonlySet<number>> {
  const told: Pick<NoticeRow, 'orderId' | 'labelId'>[] = []
  for (const part of chunks(labels, 500))
    told.push(
      ...((await db('notices')
        .whereIn(
          'order_id',
          part.map(({ orderId }) => orderId),
        )
        .where({ state: 'sent' })
        .whereIn('step', ['label made', 'number changed'])
        .select('order_id', 'label_id')) as typeof told),
    )
  const labelOf = new Map(labels.map(({ orderId, labelId }) => [orderId, labelId]))
  return new Set(
    told.flatMap(({ orderId, labelId }) => (labelOf.get(orderId) === labelId ? [] : labelOf.get(orderId)!)),
  )
}

/** Drops waiting notices, with the reason. */
export async function dropNotices(db: Database, ids: readonly number[], problem: string): Promise<void> {
  for (const part of chunks(ids, 400))
    await db('notices')
      .whereIn('id', part)
      .where({ state: 'waiting' })
      .update({ state: 'dropped', problem, leaseUntil: null })
}

/** Notices that went out in another one: they were sent with it, at the same moment. */
export async function sentTogether(db: Database, ids: readonly number[], sentAt: string): Promise<void> {
  for (const part of chunks(ids, 400))
    await db('notices')
      .whereIn('id', part)
      .where({ state: 'waiting' })
      .update({ state: 'sent', sentAt, problem: null, leaseUntil: null })
}

/** The notice that the other side knows by a name. */
export const noticeByReceipt = (db: Database, receipt: string): Promise<NoticeRow | undefined> =>
  db('notices').where({ receipt }).first()
/** A notice; undefined when there is none. */
export const noticeById = (db: Database, id: number): Promise<NoticeRow | undefined> =>
  db('notices').where({ id }).first()
/** The last text message that went to a number. */
export const textedLast = (db: Database, to: string): Promise<NoticeRow | undefined> =>
  db('notices').where({ recipient: to, medium: 'text', state: 'sent' }).orderBy('id', 'desc').first()

/** Writes what became of a notice after it had left: it arrived, or it did not, and why. */
export async function setReceived(db: Database, id: number, received: string, problem: string | null): Promise<void> {
  await db('notices')
    .where({ id })
    .whereIn('state', ['sent', 'failed'])
    .update({ received, ...(problem === null ? {} : { state: 'failed', problem }) })
}

/** What is told to somebody outside. */
export type Message = 'posts' | 'notices' | 'handovers'

/** The newest posts, notices or hand-overs in a state (null for all), `most` at most, with the number of the order. */
export async function recentWork<Row>(
  db: Database,
  table: Message,
  state: string | null,
  most: number,
): Promise<(Row & { number: string })[]> {
  const query = db(table)
    .join('orders', 'orders.id', `${table}.order_id`)
    .select(`${table}.*`, 'orders.number')
    .orderBy(`${table}.id`, 'desc')
    .limit(most)
  if (state) void query.where(`${table}.state`, state)
  return query
}

/** How many posts, notices or hand-overs are in each state. */
export async function workByState(db: Database, table: Message): Promise<Record<string, number>> {
  const rows: { state: string; n: number }[] = await db(table).select('state').count({ n: '*' }).groupBy('state')
  return Object.fromEntries(rows.map((row) => [row.state, Number(row.n)]))
}

/** Sends failed ones on their way again, all or one, with a day's patience from now; gives how many. */
export async function retryFailed(db: Database, table: Message, now: string, id?: number): Promise<number> {
  const again = {
    state: table === 'notices' ? 'waiting' : 'queued',
    attempts: 0,
    nextAt: now,
    madeAt: now,
    problem: null,
  }
  const one = id === undefined ? {} : { id }
  const failed = await db(table)
    .where({ state: 'failed', ...one })
    .update(again)
  if (table !== 'posts') return failed
  // Under its old key it would be what was told already.
  const key = db.raw(`?? || '-again'`, ['key'])
  const differing = await db('posts')
    .where({ state: 'sent', ...one })
    .whereNotNull('differs')
    .update({ ...again, key, checkedAt: null, differs: null })
  return failed + differing
}

/** Orders at channels whose posts were sent between two moments and were not read back yet, `most` at most. */
export const ordersToCheck = (
  db: Database,
  since: string,
  until: string,
  most: number,
): Promise<{ orderId: number; channelId: string }[]> =>
  db('posts')
    .where({ state: 'sent' })
    .whereNull('checked_at')
    .whereBetween('sent_at', [since, until])
    .distinct('order_id', 'channel_id')
    .limit(most)

/** Writes that a post was read back, and what the channel shows otherwise. */
export async function notePostChecked(
  db: Database,
  ids: readonly number[],
  checkedAt: string,
  differs: string | null,
): Promise<void> {
  await db('posts').whereIn('id', ids).where({ state: 'sent' }).update({ checkedAt, differs })
}
