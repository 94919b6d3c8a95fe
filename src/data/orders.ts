import { waitingStates, type Order, type OrderState } from '@/core/order'
import type { MinorUnits } from '@/core/units'
import type { Routed } from '@/core/rulebook/language'
import { countAll } from './countAll'
import { chunks, fromJson, type Database } from './database'

export interface OrderRow {
  readonly id: number
  readonly channelId: string
  readonly remoteId: string
  readonly number: string
  readonly state: OrderState
  readonly placedAt: string
  readonly promisedBy: string
  readonly buyer: string
  readonly email: string
  readonly country: string
  readonly city: string
  readonly wording: string
  /** Minor units of the home currency. */
  readonly value: MinorUnits | null
  readonly quantity: number
  readonly weight: number | null
  readonly tags: string
  readonly hold: string | null
  readonly holdUntil: string | null
  readonly speed: string | null
  /** 0 urgent, 1 normal, 2 later. */
  readonly priority: number
  readonly notice: boolean
  readonly textMessage: boolean
  /** Steps that the customer is told besides those that the notices are set to, with commas between. */
  readonly toldSteps: string
  /** What a customer says is wrong, while nobody has closed it. */
  readonly report: string | null
  readonly tellWhen: 'bought' | 'dispatched' | null
  readonly problem: string | null
  /** The problem in a few words. */
  readonly reason: string | null
  readonly preset: string | null
  readonly location: string | null
  readonly service: string | null
  readonly carrier: string | null
  readonly zone: string | null
  readonly cost: number | null
  readonly arrivesOn: string | null
  readonly daysLate: number | null
  readonly buyByItself: boolean
  /** Buyer and place; orders with the same can go as one shipment. */
  readonly combineKey: string
  readonly pinned: boolean
  readonly flag: string | null
  readonly factHash: string
  readonly importedAt: string
}

/** Exceptions first: the order in which states stand on the Desk. */
export const rankOf: Readonly<Record<OrderState, number>> = {
  attention: 0,
  held: 1,
  ready: 2,
  buying: 3,
  labelled: 4,
  dispatched: 5,
  delivered: 6,
  'fulfilled elsewhere': 7,
  cancelled: 8,
  combined: 9,
}

export interface StoredOrder {
  readonly id: number
  readonly order: Order
}

export interface Known {
  readonly id: number
  readonly remoteId: string
  readonly factHash: string
  readonly state: OrderState
  /** When it changed last in its channel; null where that was not kept yet. */
  readonly changedAt: string | null
  /** When what says whose it was was taken out; the channel does not bring it back. */
  readonly forgottenAt: string | null
}

/** Which of these orders of a channel are known already. */
export async function findKnown(
  db: Database,
  channel: string,
  remoteIds: readonly string[],
): Promise<Map<string, Known>> {
  const found = new Map<string, Known>()
  for (const part of chunks(remoteIds, 500)) {
    const rows: Known[] = await db('orders')
      .select('id', 'remote_id', 'fact_hash', 'state', 'changed_at', 'forgotten_at')
      .where({ channelId: channel })
      .whereIn('remote_id', part)
    for (const row of rows) found.set(row.remoteId, row)
  }
  return found
}

/** Notes when an order changed last in its channel, though nothing of it is new. */
export async function setChangedAt(db: Database, id: number, changedAt: string): Promise<void> {
  await db('orders').where({ id }).update({ changedAt })
}

/** How many orders of a channel there are. */
export async function countOrders(db: Database, channel: string): Promise<number> {
  const [row] = (await db('orders').where({ channelId: channel }).count({ orders: '*' })) as { orders: number }[]
  return row?.orders ?? 0
}

/** Sets the state of orders. */
export async function setState(db: Database, ids: readonly number[], state: OrderState): Promise<void> {
  for (const part of chunks(ids, 500)) await db('orders').whereIn('id', part).update({ state, rank: rankOf[state] })
}

/** Flags an order for a person, or takes the flag away (null); with `hash`, what was flagged is known from then on. */
export async function setFlag(db: Database, id: number, flag: string | null, hash?: string): Promise<void> {
  await db('orders')
    .where({ id })
    .update(hash === undefined ? { flag } : { flag, factHash: hash })
}

/** Orders with their facts, in ascending id from after `after`. */
export async function pageOfOrders(
  db: Database,
  states: readonly OrderState[],
  after: number,
  most: number,
  placedFrom = '',
): Promise<StoredOrder[]> {
  const rows: { id: number; facts: string }[] = await db('orders')
    .join('order_facts', 'order_facts.order_id', 'orders.id')
    .select('orders.id', 'order_facts.facts')
    .whereIn('orders.state', states)
    .where('orders.id', '>', after)
    .where('orders.placed_at', '>=', placedFrom)
    .orderBy('orders.id')
    .limit(most)
  return rows.map((row) => ({ id: row.id, order: fromJson<Order>(row.facts) }))
}

/** Orders that were read before, with the text they were read from. */
export type KnownOrders = Map<number, { readonly facts: string; readonly order: Order }>

/**
 * Orders with their facts, in no particular order; what does not exist is left out. With `known`, an order whose facts
 * are as they were then is that very object, and others are added to it.
 */
export async function ordersById(db: Database, ids: readonly number[], known?: KnownOrders): Promise<StoredOrder[]> {
  const found: StoredOrder[] = []
  for (const part of chunks(ids, 500)) {
    const rows: { orderId: number; facts: string }[] = await db('order_facts').whereIn('order_id', part)
    for (const { orderId: id, facts } of rows) {
      const before = known?.get(id)
      const order = before?.facts === facts ? before.order : fromJson<Order>(facts)
      known?.set(id, { facts, order })
      found.push({ id, order })
    }
  }
  return found
}

/** The row of an order; undefined when there is none. */
export async function orderRow(db: Database, id: number): Promise<OrderRow | undefined> {
  return db<OrderRow>('orders').where({ id }).first()
}

/** The rows of orders; what does not exist is left out. */
export async function orderRows(db: Database, ids: readonly number[]): Promise<OrderRow[]> {
  const rows: OrderRow[] = []
  for (const part of chunks(ids, 500)) rows.push(...((await db('orders').whereIn('id', part)) as OrderRow[]))
  return rows
}

/** The orders of a number, whatever channels they are of. */
export const orderIdsByNumber = (db: Database, number: string): Promise<number[]> =>
  db('orders').where({ number }).orderBy('id').limit(20).pluck<number[]>('id')

/** Numbers and states of orders; what does not exist is left out. */
export async function orderStates(
  db: Database,
  ids: readonly number[],
): Promise<Pick<OrderRow, 'id' | 'number' | 'state'>[]> {
  const rows: Pick<OrderRow, 'id' | 'number' | 'state'>[] = []
  for (const part of chunks(ids, 500))
    rows.push(...((await db('orders').whereIn('id', part).select('id', 'number', 'state')) as typeof rows))
  return rows
}

/** What was decided for an order last, and by which edition and world; undefined before the first time. */
export async function decisionOf(
  db: Database,
  id: number,
): Promise<{ edition: number; world: number; decidedAt: string; outcome: Routed } | undefined> {
  const row: { edition: number; world: number; decidedAt: string; outcome: string } | undefined = await db('decisions')
    .where({ orderId: id })
    .first()
  return (
    row && { edition: row.edition, world: row.world, decidedAt: row.decidedAt, outcome: fromJson<Routed>(row.outcome) }
  )
}

/** Adds sentences to the histories of orders. */
export async function writeLog(
  db: Database,
  entries: readonly { order: number; at: string; author: string; sentence: string }[],
): Promise<void> {
  for (const part of chunks(entries, 200))
    await db('order_log').insert(
      part.map((entry) => ({ orderId: entry.order, at: entry.at, author: entry.author, sentence: entry.sentence })),
    )
}

/** The history of an order, in the order of time. */
export async function logOf(db: Database, id: number): Promise<{ at: string; author: string; sentence: string }[]> {
  return db('order_log').select('at', 'author', 'sentence').where({ orderId: id }).orderBy('id')
}

/** How many orders are in each state. */
export async function countByState(db: Database): Promise<Map<OrderState, number>> {
  const rows: { state: OrderState; n: number }[] = await db('orders').select('state').count({ n: '*' }).groupBy('state')
  return new Map(rows.map((row) => [row.state, Number(row.n)]))
}

/** What was decided last for many orders. */
export async function outcomesOf(db: Database, ids: readonly number[]): Promise<Map<number, Routed>> {
  const found = new Map<number, Routed>()
  for (const part of chunks(ids, 500)) {
    const rows: { orderId: number; outcome: string }[] = await db('decisions')
      .whereIn('order_id', part)
      .select('order_id', 'outcome')
    for (const row of rows) found.set(row.orderId, fromJson<Routed>(row.outcome))
  }
  return found
}

/** Held orders whose moment has come. */
export async function holdsThatEnd(db: Database, now: string, most: number): Promise<number[]> {
  const rows: { id: number }[] = await db('orders')
    .where({ state: 'held' })
    .where('hold_until', '<=', now)
    .limit(most)
    .select('id')
  return rows.map((row) => row.id)
}

/** The wordings of a time's orders by channel, with how many orders carry each. */
export async function countWordings(
  db: Database,
  since: string,
): Promise<{ channel: string; wording: string; orders: number }[]> {
  const rows = (await db('orders')
    .where('placed_at', '>=', since)
    .whereNot({ wording: '' })
    .select('channel_id', 'wording')
    .count({ n: '*' })
    .groupBy('channel_id', 'wording')
    .orderBy('n', 'desc')
    .limit(5000)) as unknown as { channelId: string; wording: string; n: number }[]
  return rows.map((row) => ({ channel: row.channelId, wording: row.wording, orders: Number(row.n) }))
}

/** The order with a number, the youngest of several. */
export async function findOrder(db: Database, number: string): Promise<number | undefined> {
  return ((await db('orders').where({ number }).orderBy('id', 'desc').first('id')) as { id: number } | undefined)?.id
}

/** The number of the youngest order; undefined when there is none. */
export async function newestOrder(db: Database): Promise<number | undefined> {
  return ((await db('orders').orderBy('id', 'desc').first('id')) as { id: number } | undefined)?.id
}

/**
 * Says on the order that its label cannot be bought because of an error of ours; it may have been bought at the
 * carrier all the same.
 */
export async function flagStuckLabel(db: Database, label: number, problem: string): Promise<void> {
  await db('orders')
    .where('id', db('labels').where({ id: label }).select('order_id'))
    .update({
      flag: `Its label cannot be finished: ${problem} Look in the log; it is asked for again with the same key.`,
    })
}

/** Ready orders that a rule lets be bought automatically, the oldest first. */
export async function ordersToBuy(db: Database, most: number): Promise<number[]> {
  const rows = (await db('orders')
    .where({ state: 'ready', buyByItself: true })
    .orderBy('placed_at')
    .limit(most)
    .select('id')) as { id: number }[]
  return rows.map((row) => row.id)
}

/** How many orders wait for a decision, a moment or a label. */
export const countWaiting = (db: Database): Promise<number> => countAll(db('orders').whereIn('state', waitingStates))

/** Order numbers by id; at most 5,000. */
export async function numbersOf(db: Database, ids: readonly number[]): Promise<Map<number, string>> {
  const rows = (await db('orders').whereIn('id', ids.slice(0, 5000)).select('id', 'number')) as {
    id: number
    number: string
  }[]
  return new Map(rows.map((row) => [row.id, row.number]))
}

/** An order that a person has to look at, with the reason. */
export async function setProblem(db: Database, id: number, problem: string, reason: string): Promise<void> {
  await db('orders').where({ id }).update({ state: 'attention', rank: rankOf.attention, problem, reason })
}

/** The order with a number whose buyer has this e-mail address; never one without an address. */
export async function orderOfBuyer(db: Database, number: string, email: string): Promise<number | undefined> {
  const row = (await db('orders').where({ number, email }).whereNot({ email: '' }).first('id')) as
    { id: number } | undefined
  return row?.id
}

/** The most frequent values of a column of recent orders, with how many orders have each. */
export async function frequentValues(
  db: Database,
  column: 'channelId' | 'country' | 'wording' | 'city',
  since: string,
): Promise<{ value: string; n: number }[]> {
  return (await db('orders')
    .where('placed_at', '>=', since)
    .whereNot({ [column]: '' })
    .select({ value: column })
    .count({ n: '*' })
    .groupBy(column)
    .orderBy('n', 'desc')
    .limit(60)) as { value: string; n: number }[]
}

/** The most frequent tags, with how many orders have each. */
export async function frequentTags(db: Database): Promise<{ value: string; n: number }[]> {
  return (await db('order_tags')
    .select({ value: 'tag' })
    .count({ n: '*' })
    .groupBy('tag')
    .orderBy('n', 'desc')
    .limit(60)) as { value: string; n: number }[]
}

/** Why waiting orders need a person, the most frequent reason first. */
export async function countReasons(db: Database): Promise<{ reason: string; orders: number }[]> {
  const rows = (await db('orders')
    .where({ state: 'attention' })
    .whereNotNull('reason')
    .select('reason')
    .count({ n: '*' })
    .groupBy('reason')
    .orderBy([{ column: 'n', order: 'desc' }, { column: 'reason' }])
    .limit(20)) as { reason: string; n: number }[]
  return rows.map(({ reason, n }) => ({ reason, orders: Number(n) }))
}

/** Whether there is any order. */
export const anyOrder = async (db: Database): Promise<boolean> => (await db('orders').first('id')) !== undefined
