import type { Database } from './database'

/** How far the comparison after the last restore is, as JSON; undefined where the books were never put back. */
export const lastRestore = async (db: Database): Promise<string | undefined> =>
  ((await db('restores').orderBy('id', 'desc').first('state')) as { state: string } | undefined)?.state

/** Keeps how far the comparison after the restore of that moment is. */
export async function keepRestore(db: Database, restoredAt: string, state: string): Promise<void> {
  await db('restores').insert({ restoredAt, state }).onConflict('restored_at').merge(['state'])
}

/** The label that was made last; undefined where there is none. */
export const newestLabel = (db: Database): Promise<{ id: number; madeAt: string } | undefined> =>
  db('labels').orderBy('id', 'desc').first('id', 'made_at')

/** Whether the books have a label of that number, made at that moment. */
export const hasLabel = async (db: Database, { id, madeAt }: { id: number; madeAt: string }): Promise<boolean> =>
  (await db('labels').where({ id, madeAt }).first('id')) !== undefined

/**
 * A label of an order that nobody has asked for yet is asked for under the key of one that the carrier has; false where
 * there is none.
 */
export async function giveFoundKey(
  db: Database,
  orderId: number,
  { key, account, carrier, service }: { key: string; account: string; carrier: string; service: string },
): Promise<boolean> {
  const waiting = { orderId, state: 'queued', attempts: 0, leaseUntil: null }
  return (await db('labels').where(waiting).update({ key, account, carrier, service })) > 0
}
