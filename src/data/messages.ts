import type { Database } from './database'

/** A message that a channel has sent by itself. */
export interface MessageRow {
  readonly id: number
  readonly connection: string
  /** The sender's own name of it: the same twice is one. */
  readonly event: string
  readonly receivedAt: string
  readonly state: 'waiting' | 'done' | 'failed'
  /** As it came; null when it is done. */
  readonly body: string | null
  readonly nextAt: string
  readonly attempts: number
  readonly problem: string | null
}

/** Keeps one; false when it is here already. */
export async function addMessage(
  db: Database,
  message: Pick<MessageRow, 'connection' | 'event' | 'receivedAt' | 'body'>,
): Promise<boolean> {
  const rows = (await db('messages')
    .insert({ ...message, nextAt: message.receivedAt })
    .onConflict(['connection', 'event'])
    .ignore()
    .returning('id')) as { id: number }[]
  return rows.length > 0
}

/** Those that wait, in the order in which they came. */
export const waitingMessages = (db: Database, now: string, most: number): Promise<MessageRow[]> =>
  db('messages').where({ state: 'waiting' }).where('nextAt', '<=', now).orderBy('id').limit(most)

/** Whether all of these still wait: within a transaction, so that of two who read them one does what they say. */
export async function stillWait(trx: Database, ids: readonly number[]): Promise<boolean> {
  const [{ n }] = (await trx('messages').whereIn('id', ids).where({ state: 'waiting' }).count({ n: '*' })) as [
    { n: number },
  ]
  return n === ids.length
}

/**
 * Writes what became of messages. Those that are done keep their name alone, so that they are known when they come
 * again.
 */
export async function settleMessages(
  db: Database,
  ids: readonly number[],
  change: Partial<Pick<MessageRow, 'state' | 'problem' | 'nextAt'>>,
): Promise<void> {
  if (ids.length === 0) return
  const again = change.state === undefined ? { attempts: db.raw('attempts + 1') } : {}
  await db('messages')
    .whereIn('id', ids)
    .where({ state: 'waiting' })
    .update({ ...change, ...again, ...(change.state === 'done' ? { body: null } : {}) })
}

/** How many messages of a connection wait, and those that failed last. */
export async function messagesOf(
  db: Database,
  connection: string,
): Promise<{
  readonly waiting: number
  readonly failed: readonly Pick<MessageRow, 'event' | 'receivedAt' | 'problem'>[]
}> {
  const [row] = (await db('messages').where({ connection, state: 'waiting' }).count({ waiting: '*' })) as {
    waiting: number
  }[]
  const failed = (await db('messages')
    .select('event', 'receivedAt', 'problem')
    .where({ connection, state: 'failed' })
    .orderBy('id', 'desc')
    .limit(5)) as Pick<MessageRow, 'event' | 'receivedAt' | 'problem'>[]
  return { waiting: row?.waiting ?? 0, failed }
}

/** Forgets those that came before a moment; a sender does not repeat them any more. */
export async function forgetMessages(db: Database, before: string): Promise<void> {
  await db('messages').where('receivedAt', '<', before).whereNot({ state: 'waiting' }).delete()
}
