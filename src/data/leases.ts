import type { Database } from './database'

/** Tables of work that must not be lost: a row is taken under a lease, and is free again when its holder dies. */
export type WorkTable = 'labels' | 'posts' | 'notices' | 'imports' | 'jobs'

export interface WorkRow {
  readonly id: number
  readonly state: string
  readonly attempts: number
}

/**
 * Takes up to `most` due rows in one of `states`, oldest first, for `seconds`. A row whose lease has run out is due
 * again. The taken rows come back as they stand in the table.
 */
export async function takeDue<Row extends WorkRow>(db: Database, table: WorkTable, states: readonly string[], now: Date, most: number, seconds: number): Promise<Row[]> {
  const at = now.toISOString()
  const until = new Date(now.getTime() + seconds * 1000).toISOString()
  const due = db(table)
    .select('id')
    .whereIn('state', states)
    .where('next_at', '<=', at)
    .where((q) => q.whereNull('lease_until').orWhere('lease_until', '<', at))
    .orderBy([{ column: 'next_at' }, { column: 'id' }])
    .limit(most)
  const rows: Row[] = await db(table).whereIn('id', due).update({ lease_until: until }).returning('*')
  return rows.sort((a, b) => a.id - b.id)
}

/** Prolongs a lease while its holder is still at work. */
export async function keepLease(db: Database, table: WorkTable, id: number, now: Date, seconds: number): Promise<void> {
  await db(table).where({ id }).update({ lease_until: new Date(now.getTime() + seconds * 1000).toISOString() })
}

/** Seconds to wait before try number `attempts` + 1: 2, 4, 8 … at most ten minutes; a longer wish of the other side wins. */
export const backOffSeconds = (attempts: number, wish = 0): number => Math.max(Math.min(600, 2 ** Math.min(attempts + 1, 10)), wish)

/** Puts a row back for a later try. */
export async function putBack(db: Database, table: WorkTable, id: number, attempts: number, now: Date, problem: string, wish = 0): Promise<void> {
  const next = new Date(now.getTime() + backOffSeconds(attempts, wish) * 1000).toISOString()
  await db(table).where({ id }).update({ attempts: attempts + 1, next_at: next, lease_until: null, problem })
}
