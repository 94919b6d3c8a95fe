import { countAll } from './countAll'
import { chunks, type Database } from './database'

export interface ImportCounts {
  readonly fetched: number
  readonly created: number
  readonly updated: number
  readonly unchanged: number
  readonly flagged: number
  readonly cancelled: number
  readonly bad: number
}

export interface ImportRow extends ImportCounts {
  readonly id: number
  readonly channelId: string
  /** Fetched from its channel, or read from a file. */
  readonly kind: 'fetch' | 'file'
  readonly file: string
  readonly fileName: string
  readonly mapping: string | null
  readonly state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled'
  readonly bytesDone: number
  readonly bytesTotal: number
  readonly attempts: number
  readonly leaseOwner?: string | null
  readonly problem: string | null
  readonly requestedAt: string
  readonly startedAt: string | null
  readonly finishedAt: string | null
}

/** Queues an import; gives its number. */
export async function addImport(
  db: Database,
  row: Pick<ImportRow, 'channelId' | 'kind'> & Partial<Pick<ImportRow, 'file' | 'fileName' | 'mapping' | 'bytesTotal'>>,
  now: string,
): Promise<number> {
  const [made] = (await db('imports')
    .insert({ ...row, state: 'queued', requestedAt: now, nextAt: now })
    .returning('id')) as { id: number }[]
  return made!.id
}

/** The import of a channel that is queued or running, if any: two at once would only do the same twice. */
export const openImportOf = (db: Database, channel: string): Promise<ImportRow | undefined> =>
  db('imports').where({ channelId: channel, kind: 'fetch' }).whereIn('state', ['queued', 'running']).first()

/** Lets go of earlier imports by schedule that found nothing, so that those that did stay in sight. */
export async function forgetEmptyImports(db: Database, channel: string, before: number): Promise<void> {
  await db('imports')
    .where({ channelId: channel, kind: 'fetch', state: 'done', fetched: 0, bad: 0 })
    .where('id', '<', before)
    .delete()
}

/** One import; undefined when there is none. */
export const importById = (db: Database, id: number): Promise<ImportRow | undefined> =>
  db('imports').where({ id }).first()
/** A page of the imports, the newest first. */
export const importsPage = (db: Database, most: number, skip: number): Promise<ImportRow[]> =>
  db('imports').orderBy('id', 'desc').limit(most).offset(skip)
/** How many imports there are. */
export const countImports = (db: Database): Promise<number> => countAll(db('imports'))
/** Imports that are queued or running. */
export const openImports = (db: Database): Promise<Pick<ImportRow, 'channelId' | 'kind'>[]> =>
  db('imports').whereIn('state', ['queued', 'running']).select('channelId', 'kind')

/** Changes the state of an import. */
export async function changeImport(
  db: Database,
  id: number,
  change: Partial<Omit<ImportRow, 'id'>> & { leaseUntil?: string | null; nextAt?: string },
): Promise<void> {
  await db('imports').where({ id }).update(change)
}

/** Adds to the counts of an import. */
export async function countUp(db: Database, id: number, counts: Partial<ImportCounts>): Promise<void> {
  const changes = Object.fromEntries(
    Object.entries(counts)
      .filter(([, n]) => n !== 0)
      .map(([name, n]) => [name, db.raw('?? + ?', [name, n])]),
  )
  if (Object.keys(changes).length > 0) await db('imports').where({ id }).update(changes)
}

export interface ImportProblem {
  readonly line: number
  readonly reason: string
  readonly row: string
}

/** Adds rows that could not be used to an import. */
export async function addProblems(db: Database, id: number, problems: readonly ImportProblem[]): Promise<void> {
  for (const part of chunks(problems, 200))
    await db('import_problems').insert(part.map((problem) => ({ importId: id, ...problem })))
}

/** Rows of an import that could not be used, the first `most` of them. */
export const problemsOf = (db: Database, id: number, most: number): Promise<ImportProblem[]> =>
  db('import_problems').select('line', 'reason', 'row').where({ importId: id }).orderBy('line').limit(most)

/** Forgets the problems of an earlier try. */
export async function clearProblems(db: Database, id: number): Promise<void> {
  await db('import_problems').where({ importId: id }).delete()
}

/** Imports asked for since a moment that are still open, and those that failed or keep failing. */
export async function countOpenImports(db: Database, since: string): Promise<{ open: number; stuck: number }> {
  const [row] = (await db('imports')
    .select({
      open: db.raw(`SUM(CASE WHEN state IN ('queued','running') THEN 1 ELSE 0 END)`),
      stuck: db.raw(
        `SUM(CASE WHEN state = 'failed' OR (state IN ('queued','running') AND attempts >= 5) THEN 1 ELSE 0 END)`,
      ),
    })
    .where('requested_at', '>', since)) as { open: number | null; stuck: number | null }[]
  return { open: Number(row?.open ?? 0), stuck: Number(row?.stuck ?? 0) }
}
