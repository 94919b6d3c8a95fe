import { fromJson, toJson, type Database } from './database'
import type { SlowStatement } from './slowest'
import { engineVersion } from './engine'
import { openStates, type WorkTable } from './workTables'

/** A process of Gharry, as it last said of itself. */
export interface ProcessRow {
  readonly id: string
  readonly kind: 'server' | 'worker'
  readonly version: string
  readonly startedAt: string
  readonly seenAt: string
  /** Why it changes nothing; null where it does. */
  readonly readOnly: string | null
  readonly slow: readonly SlowStatement[]
}

/** Writes down that a process runs; those that were not seen for a day are forgotten. */
export async function noteProcess(db: Database, row: ProcessRow): Promise<void> {
  const dayAgo = new Date(Date.parse(row.seenAt) - 86_400_000).toISOString()
  await db('processes').where('seen_at', '<', dayAgo).delete()
  await db('processes')
    .insert({ ...row, slow: toJson(row.slow) })
    .onConflict('id')
    .merge()
}

/** Takes a process off that ends in good order. */
export const dropProcess = (db: Database, id: string): Promise<number> => db('processes').where({ id }).delete()

/** The processes, the ones that were seen last first. */
export async function listProcesses(db: Database): Promise<ProcessRow[]> {
  const rows = (await db('processes').orderBy('seen_at', 'desc').limit(50)) as (Omit<ProcessRow, 'slow'> & {
    slow: string
  })[]
  return rows.map((row) => ({ ...row, slow: fromJson<SlowStatement[]>(row.slow) }))
}

/** How the work of one kind stands. */
export interface Queue {
  readonly table: WorkTable
  /** Not done, and due. */
  readonly due: number
  /** When the oldest of them became due; null where nothing is. */
  readonly oldest: string | null
  /** Somebody is at it. */
  readonly held: number
  /** Tried in vain so far, and tried again. */
  readonly tried: number
  /** Given up: for a person. */
  readonly failed: number
}

/** Every kind of work that must not be lost, by what is open of it. Done work is not looked at. */
export async function queues(db: Database, now: string, since: string): Promise<Queue[]> {
  const all: Queue[] = []
  for (const [table, states] of Object.entries(openStates) as [WorkTable, readonly string[]][]) {
    const [row] = (await db(table)
      .whereIn('state', states)
      .select(
        db.raw('SUM(CASE WHEN next_at <= ? THEN 1 ELSE 0 END) AS due', [now]),
        db.raw('MIN(CASE WHEN next_at <= ? THEN next_at END) AS oldest', [now]),
        db.raw('SUM(CASE WHEN lease_until >= ? THEN 1 ELSE 0 END) AS held', [now]),
        db.raw('SUM(CASE WHEN attempts > 0 THEN 1 ELSE 0 END) AS tried'),
      )) as unknown as { due: number | null; oldest: string | null; held: number | null; tried: number | null }[]
    const [failed] = (await db(table)
      .where({ state: 'failed' })
      .where('next_at', '>=', since)
      .count({ n: '*' })) as unknown as { n: number }[]
    all.push({
      ...{ table, due: Number(row?.due ?? 0), oldest: row?.oldest ?? null, held: Number(row?.held ?? 0) },
      ...{ tried: Number(row?.tried ?? 0), failed: Number(failed?.n ?? 0) },
    })
  }
  return all
}

/** What went wrong lately, by its sentence: how often, and when last. */
export async function recentProblems(
  db: Database,
  since: string,
): Promise<{ readonly table: WorkTable; readonly problem: string; readonly n: number; readonly last: string }[]> {
  const found: { table: WorkTable; problem: string; n: number; last: string }[] = []
  for (const table of Object.keys(openStates) as WorkTable[]) {
    const rows = (await db(table)
      .whereNotNull('problem')
      .whereNot({ problem: '' })
      .whereIn('state', [...openStates[table], 'failed'])
      .where('next_at', '>=', since)
      .select('problem')
      .count({ n: '*' })
      .max({ last: 'next_at' })
      .groupBy('problem')
      .orderBy('n', 'desc')
      .limit(10)) as unknown as { problem: string; n: number; last: string }[]
    found.push(...rows.map((row) => ({ ...row, table, n: Number(row.n) })))
  }
  return found.sort((a, b) => b.n - a.n).slice(0, 12)
}

/** Since when a clock that jumped is taken for right; null where nobody has said so. */
export const clockTrust = async (db: Database): Promise<string | null> =>
  ((await db('clock_trust').where({ id: 1 }).first('at')) as { at: string } | undefined)?.at ?? null

/** Says that this machine's clock is right now; the clock that work goes by follows it. */
export async function trustClock(db: Database, now: string): Promise<void> {
  await db('clock_trust').insert({ id: 1, at: now }).onConflict('id').merge()
  await db('work_clock').insert({ id: 1, at: now }).onConflict('id').merge()
}

/** Until when the books are known to have been worked on; null where they were not. */
export const workedUntil = async (db: Database): Promise<string | null> =>
  ((await db('work_clock').where({ id: 1 }).first('at')) as { at: string } | undefined)?.at ?? null

/** The newest step of the books' form, and of what version the database itself is. */
export async function formAndEngine(db: Database): Promise<{ readonly form: string; readonly engine: string }> {
  const row = (await db('knex_migrations').orderBy('id', 'desc').first('name')) as { name: string } | undefined
  return { form: row?.name ?? '', engine: await engineVersion(db) }
}
