import { toJson, type Database } from './database'

export interface JobRow {
  readonly id: number
  readonly kind: 'route again' | 'count flow'
  readonly key: string
  readonly payload: string
  readonly state: 'queued' | 'done' | 'failed'
  readonly attempts: number
  readonly done: number
  readonly total: number
  readonly result: string | null
  readonly problem: string | null
  readonly made_at: string
  readonly sent_at: string | null
}

/** Queues a job; the same key twice is one job. */
export async function addJob(db: Database, kind: JobRow['kind'], key: string, payload: unknown, now: string): Promise<void> {
  await db('jobs').insert({ kind, key, payload: toJson(payload), state: 'queued', made_at: now, next_at: now }).onConflict('key').ignore()
}

export async function changeJob(db: Database, id: number, change: Partial<Omit<JobRow, 'id'>> & { lease_until?: string | null }): Promise<void> {
  await db('jobs').where({ id }).update(change)
}

export const newestJob = (db: Database, kind: JobRow['kind']): Promise<JobRow | undefined> => db('jobs').where({ kind }).orderBy('id', 'desc').first()
