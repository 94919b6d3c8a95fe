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
  readonly kind: 'fulfil' | 'withdraw'
  readonly orderId: number
  readonly labelId: number
  /** Which parcel of the shipment; 1 is the first. */
  readonly parcel: number
  readonly channelId: string
  readonly key: string
  readonly state: 'queued' | 'sent' | 'failed' | 'dropped'
}

export interface NoticeRow extends OutboxRow {
  readonly orderId: number
  readonly labelId: number
  readonly recipient: string
  readonly key: string
  readonly state: 'waiting' | 'sent' | 'failed' | 'dropped'
}

/** Queues posts to channels; one of the same key is queued once. */
export async function addPosts(
  db: Database,
  posts: readonly Pick<PostRow, 'kind' | 'orderId' | 'labelId' | 'parcel' | 'channelId' | 'key'>[],
  now: string,
): Promise<void> {
  for (const part of chunks(posts, 100))
    await db('posts')
      .insert(part.map((post) => ({ ...post, state: 'queued', madeAt: now, nextAt: now })))
      .onConflict('key')
      .ignore()
}

/** Queues notices to customers, not before `sendAfter`; one of the same key is queued once. */
export async function addNotices(
  db: Database,
  notices: readonly Pick<NoticeRow, 'orderId' | 'labelId' | 'recipient' | 'key'>[],
  sendAfter: string,
  now: string,
): Promise<void> {
  for (const part of chunks(notices, 100))
    await db('notices')
      .insert(part.map((notice) => ({ ...notice, state: 'waiting', madeAt: now, nextAt: sendAfter })))
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
  return db(table)
    .where({ state: 'failed', ...(id === undefined ? {} : { id }) })
    .update({ state: table === 'notices' ? 'waiting' : 'queued', attempts: 0, nextAt: now, madeAt: now, problem: null })
}
