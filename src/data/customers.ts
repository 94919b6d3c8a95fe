import { countAll } from './countAll'
import type { Database } from './database'

/** Somebody who is not written to any more, by e-mail address or telephone number. */
export interface Silenced {
  readonly address: string
  /** They said so, or what was sent came back. */
  readonly why: 'stopped' | 'came back'
  readonly said: string
  readonly at: string
}

const same = (address: string): string => address.trim().toLowerCase()

/** Why somebody is not written to; undefined when they are. */
export const silencedBy = (db: Database, address: string): Promise<Silenced | undefined> =>
  db('silenced')
    .where({ address: same(address) })
    .first()

/** Writes to somebody no more; who said so themselves stays with that. */
export async function silence(db: Database, { address, ...rest }: Silenced): Promise<void> {
  await db('silenced')
    .insert({ address: same(address), ...rest })
    .onConflict('address')
    .merge(rest.why === 'stopped' ? undefined : ['at'])
}
/** Writes to somebody again. */
export async function unsilence(db: Database, address: string): Promise<void> {
  await db('silenced')
    .where({ address: same(address) })
    .delete()
}

/** What a customer wrote on the page: a note to be read, or a report that something is wrong. */
export interface CustomerWords {
  readonly id: number
  readonly orderId: number
  /** 0 where it is about no shipment. */
  readonly labelId: number
  /** The letter that it answers. */
  readonly letterId: number | null
  readonly kind: 'note' | 'report'
  /** What it is about, of a short list. */
  readonly about: string
  readonly text: string
  /** A day that it names; empty for none. */
  readonly day: string
  readonly at: string
  readonly closedAt: string | null
  readonly answer: string
}

/** Keeps what a customer wrote; gives its number. */
export async function addWords(
  db: Database,
  words: Omit<CustomerWords, 'id' | 'closedAt' | 'answer' | 'letterId'> & Partial<Pick<CustomerWords, 'letterId'>>,
): Promise<number> {
  const [id] = (await db('customer_words').insert(words).returning('id')) as { id: number }[]
  return id!.id
}
/** What customers wrote about orders, the newest first. */
export const wordsOfOrders = (db: Database, orders: readonly number[]): Promise<CustomerWords[]> =>
  db('customer_words').whereIn('order_id', orders).orderBy('id', 'desc').limit(100)
/** One of them. */
export const wordsById = (db: Database, id: number): Promise<CustomerWords | undefined> =>
  db('customer_words').where({ id }).first()
/** Closes what a customer wrote, once; gives whether it was open. */
export const closeWords = async (db: Database, id: number, answer: string, closedAt: string): Promise<boolean> =>
  (await db('customer_words').where({ id }).whereNull('closed_at').update({ answer, closedAt })) === 1
/** How many a customer wrote about an order since a moment. */
export const countWords = (db: Database, order: number, since: string): Promise<number> =>
  countAll(db('customer_words').where({ orderId: order }).where('at', '>=', since))

/** Writes what a customer says is wrong to its order, for the Desk; null when nothing is (any more). */
export async function setReport(db: Database, order: number, report: string | null): Promise<void> {
  await db('orders').where({ id: order }).update({ report })
}
/** Writes to the board how much of what a customer wrote about an order nobody has read. */
export async function markWords(db: Database, order: number, words: number): Promise<void> {
  await db('board').where({ orderId: order }).update({ words })
}
