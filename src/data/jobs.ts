import type { TrialChange } from '@/core/rulebook/change'
import { chunks, fromJson, toJson, type Database } from './database'
import { insertMany } from './engine'

export interface JobRow {
  readonly id: number
  readonly kind:
    'route again' | 'stock' | 'count flow' | 'edit orders' | 'trial' | 'rule costs' | 'past days' | 'old months'
  readonly key: string
  readonly payload: string
  readonly state: 'queued' | 'done' | 'failed' | 'cancelled'
  readonly attempts: number
  readonly leaseOwner?: string | null
  readonly done: number
  readonly total: number
  readonly result: string | null
  readonly problem: string | null
  readonly madeAt: string
  readonly sentAt: string | null
}

/** Queues a job; the same key twice is one job. */
export async function addJob(
  db: Database,
  kind: JobRow['kind'],
  key: string,
  payload: unknown,
  now: string,
  /** When it is due; at once without it. */
  due = now,
): Promise<void> {
  // A newer one of a kind does all that those before it would do: of those that nobody works on yet, it takes the
  // place.
  if (kind === 'route again' || kind === 'trial')
    await db('jobs')
      .where({ kind, state: 'queued' })
      .whereNull('lease_until')
      .whereNot({ key })
      .update({ state: 'cancelled', problem: kind === 'trial' ? 'A newer trial was asked for.' : null })
  await db('jobs')
    .insert({ kind, key, payload: toJson(payload), state: 'queued', madeAt: now, nextAt: due })
    .onConflict('key')
    .ignore()
}

/** One job; undefined when there is none. */
export const jobById = (db: Database, id: number): Promise<JobRow | undefined> => db('jobs').where({ id }).first()
/** The job of an intent; undefined when it was never asked for. */
export const jobByKey = (db: Database, key: string): Promise<JobRow | undefined> => db('jobs').where({ key }).first()

/** Stops a job that is not done; false when it is. */
export async function cancelJob(db: Database, id: number): Promise<boolean> {
  return (await db('jobs').where({ id, state: 'queued' }).update({ state: 'cancelled', leaseUntil: null })) === 1
}

/** Changes the state of a job. */
export async function changeJob(
  db: Database,
  id: number,
  change: Partial<Omit<JobRow, 'id'>> & { leaseUntil?: string | null },
): Promise<void> {
  await db('jobs').where({ id }).update(change)
}

/** The newest job of a kind; undefined when there is none. */
export const newestJob = (db: Database, kind: JobRow['kind']): Promise<JobRow | undefined> =>
  db('jobs').where({ kind }).orderBy('id', 'desc').first()
/** Whether a job of a kind waits, or is worked on. */
export const isQueued = async (db: Database, kind: JobRow['kind']): Promise<boolean> =>
  (await db('jobs').where({ kind, state: 'queued' }).first('id')) !== undefined
/** The newest job of a kind that is done; undefined when there is none. */
export const newestDone = (db: Database, kind: JobRow['kind']): Promise<JobRow | undefined> =>
  db('jobs').where({ kind, state: 'done' }).orderBy('id', 'desc').first()

/** How far the cost of a change moved; what has a service on one side only counts as the whole cost. */
const sizeOf = ({ before, after }: TrialChange): number => Math.abs((after.cost ?? 0) - (before.cost ?? 0))

/** Keeps what a job found to change; the same order again replaces what it said before. In the caller's transaction. */
export async function addChanges(trx: Database, job: number, changes: readonly TrialChange[]): Promise<void> {
  for (const part of chunks(changes, 500))
    await trx('outcome_changes')
      .where({ jobId: job })
      .whereIn(
        'order_id',
        part.map(({ id }) => id),
      )
      .delete()
  await insertMany(trx, 'outcome_changes', ['job_id', 'order_id', 'size', 'change'], changes, (change) => [
    job,
    change.id,
    sizeOf(change),
    toJson(change),
  ])
}

/** The changes of a job, the biggest first. */
export async function changesOf(db: Database, job: number, skip: number, most: number): Promise<TrialChange[]> {
  const rows: { change: string }[] = await db('outcome_changes')
    .where({ jobId: job })
    .orderBy([{ column: 'size', order: 'desc' }, { column: 'order_id' }])
    .offset(skip)
    .limit(most)
    .select('change')
  return rows.map((row) => fromJson<TrialChange>(row.change))
}

/** Forgets the changes of a kind of job but its newest few. */
export async function forgetOldChanges(db: Database, kind: JobRow['kind'], keep: number): Promise<void> {
  const old: { id: number }[] = await db('jobs')
    .where({ kind })
    .orderBy('id', 'desc')
    .offset(keep)
    .limit(1000)
    .select('id')
  for (const part of chunks(old, 200))
    await db('outcome_changes')
      .whereIn(
        'job_id',
        part.map((row) => row.id),
      )
      .delete()
}
