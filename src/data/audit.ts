import { createHash } from 'node:crypto'
import { countWritten, type Shown, whoActs } from './acting'
import { toJson, type Database } from './database'

/** A line of the audit: who did what to what, from where, and what it was before and after. */
export interface AuditRow {
  readonly seq: number
  readonly at: string
  readonly actor: string
  readonly name: string
  readonly role: string
  readonly address: string
  readonly request: string
  readonly action: string
  readonly about: string
  /** JSON; null where there was nothing. */
  readonly before: string | null
  readonly after: string | null
  /** The hash of the line before; empty for the first one. */
  readonly previous: string
  /** SHA-256 over all that stands before it. */
  readonly hash: string
}
export interface Audited {
  /** What was done, in a few words. */
  readonly action: string
  /** To what: `edition 7`, `order 12`, `person 3`. */
  readonly about: string
  readonly before?: unknown
  readonly after?: unknown
}

const fields = [
  'seq',
  'at',
  'actor',
  'name',
  'role',
  'address',
  'request',
  'action',
  'about',
  'before',
  'after',
] as const
const hashOf = (row: Omit<AuditRow, 'hash'>): string =>
  createHash('sha256')
    .update(toJson([...fields.map((field) => row[field]), row.previous]))
    .digest('hex')
const kept = (value: unknown): string | null => (value === undefined || value === null ? null : toJson(value))

/**
 * Writes a line of what whoever acts does, chained to the one before. In the transaction of the change itself it stands
 * or falls with it; writers wait for each other, so the chain has no forks.
 */
export async function addAudit(db: Database, { action, about, before, after }: Audited, at: string): Promise<void> {
  if (!db.isTransaction) return db.transaction((trx) => addAudit(trx, { action, about, before, after }, at))
  const last = (await db('audit').orderBy('seq', 'desc').first('seq', 'hash')) as
    { seq: number; hash: string } | undefined
  const { id, ...actor } = whoActs()
  const row = {
    ...{ seq: (last?.seq ?? 0) + 1, at, actor: id, ...actor, action, about },
    ...{ before: kept(before), after: kept(after), previous: last?.hash ?? '' },
  }
  await db('audit').insert({ ...row, hash: hashOf(row) })
  countWritten()
}

/**
 * Where something that people change is kept, and which of its columns the audit may show: nothing secret, nothing of a
 * buyer.
 */
export interface PlainRows {
  readonly table: string
  /** The column by which rows are found. */
  readonly by: string
  /** Another column that tells apart rows that are found by the same. */
  readonly within?: string
  readonly columns: readonly string[]
}

/** The rows of these ids as the audit may show them, by their names: `label 7`, or `item A-1 of leeds`. */
export async function plainRows(
  db: Database,
  { table, by, within, columns }: PlainRows,
  ids: readonly (string | number)[],
  kind: string,
): Promise<Shown> {
  const rows = (await db(table)
    .whereIn(by, [...ids])
    .select(by, ...(within ? [within] : []), ...columns)) as Record<string, string | number>[]
  return Object.fromEntries(
    rows.map((row) => [
      `${kind} ${row[by]}${within ? ` of ${row[within]}` : ''}`,
      Object.fromEntries(columns.map((name) => [name, row[name]])),
    ]),
  )
}

/** What is looked for in the audit; all of it has to hold. */
export interface AuditFilter {
  readonly search?: string
  readonly actor?: string
  /** Only lines before this one. */
  readonly before?: number
}

/** Lines of the audit, the youngest first. */
export async function readAudit(db: Database, filter: AuditFilter, most: number): Promise<AuditRow[]> {
  const query = db('audit').orderBy('seq', 'desc').limit(most)
  if (filter.actor) void query.where({ actor: filter.actor })
  if (filter.before) void query.where('seq', '<', filter.before)
  for (const word of (filter.search ?? '').toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8))
    void query.where((q) => {
      for (const column of ['name', 'action', 'about', 'before', 'after', 'address'])
        void q.orWhereRaw(
          `LOWER(${column === 'before' || column === 'after' ? `COALESCE("${column}", '')` : column}) LIKE ? ESCAPE '\\'`,
          [`%${word.replace(/[\\%_]/g, '\\$&')}%`],
        )
    })
  return (await query) as AuditRow[]
}

/** Everybody whose deeds are in the audit, by their newest name. */
export const auditActors = (db: Database): Promise<{ actor: string; name: string }[]> =>
  db('audit').select('actor').max({ name: 'name' }).groupBy('actor').orderBy('name') as unknown as Promise<
    { actor: string; name: string }[]
  >

/** What a look at the whole chain says. `wrong` is the first line that is not as it was written, or is missing. */
export interface ChainCheck {
  readonly lines: number
  /** The hash of the last line: kept elsewhere, it shows whether lines were cut off at the end. */
  readonly head: string
  readonly wrong: { readonly seq: number; readonly why: string } | null
}

/**
 * Follows the chain line by line: `take` says whether a line is as it was written; after one that is not, nothing more
 * counts.
 */
export function chainReader(): { readonly take: (row: AuditRow) => boolean; readonly end: () => ChainCheck } {
  let [lines, head] = [0, '']
  let wrong: ChainCheck['wrong'] = null
  const whyWrong = (row: AuditRow): string | null => {
    if (row.seq !== lines + 1) return 'It is missing.'
    if (row.previous !== head) return 'It does not follow from the line before.'
    return row.hash === hashOf(row) ? null : 'It is not as it was written.'
  }
  return {
    take: (row) => {
      const why = wrong ? wrong.why : whyWrong(row)
      if (why !== null) wrong ??= { seq: lines + 1, why }
      else [lines, head] = [row.seq, row.hash]
      return why === null
    },
    end: () => ({ lines, head, wrong }),
  }
}

/** Reads the audit from its first line, and works out every hash again. */
export async function checkChain(db: Database): Promise<ChainCheck> {
  const chain = chainReader()
  for (;;) {
    const rows = (await db('audit').where('seq', '>', chain.end().lines).orderBy('seq').limit(1000)) as AuditRow[]
    if (rows.length === 0 || !rows.every((row) => chain.take(row))) return chain.end()
  }
}
