import {
  addAudit,
  auditActors,
  type AuditFilter,
  type AuditRow,
  checkChain,
  type ChainCheck,
  fromJson,
  listPeople,
  readAudit,
} from '@/data'
import { csvFile, xlsxFile } from '@/adapters'
import type { Application } from '../shared/application'

export interface AuditLine extends Omit<AuditRow, 'before' | 'after' | 'previous' | 'hash'> {
  readonly before: unknown
  readonly after: unknown
}

/** Lines at once. */
const page = 100

/** The audit, the youngest first; `more` says where to go on. */
export async function showAudit(
  { db }: Application,
  filter: AuditFilter,
): Promise<{
  readonly lines: readonly AuditLine[]
  readonly more: number | null
  readonly actors: readonly { readonly actor: string; readonly name: string }[]
}> {
  const [rows, actors, named] = await Promise.all([readAudit(db, filter, page + 1), auditActors(db), personNames(db)])
  const lines = rows.slice(0, page).map(({ before, after, previous: _, hash: __, ...row }) => ({
    ...row,
    about: named(row.about),
    before: before === null ? null : fromJson<unknown>(before),
    after: after === null ? null : fromJson<unknown>(after),
  }))
  return { lines, more: rows.length > page ? lines.at(-1)!.seq : null, actors }
}

/** Says `person 7` with the name that 7 has now: what is chained has the number alone, as names change. */
async function personNames(db: Application['db']): Promise<(about: string) => string> {
  const names = new Map((await listPeople(db)).map(({ id, name }) => [id, name]))
  return (about) => {
    const name = names.get(Number(/^person (\d+)$/.exec(about)?.[1]))
    return name === undefined ? about : `${about}: ${name}`
  }
}

/** Whether the audit is as it was written. */
export const verifyAudit = ({ db }: Application): Promise<ChainCheck> => checkChain(db)

const columns = [
  'Line',
  'When',
  'Who',
  'Name',
  'Role',
  'From',
  'Request',
  'What',
  'About',
  'Before',
  'After',
  'Hash',
] as const
/** Most lines in a file. */
const mostInFile = 100_000

/** The audit as a table to keep. That it was taken away is in the audit, too. */
export async function auditFile(
  { db, now }: Application,
  format: 'csv' | 'xlsx',
  filter: AuditFilter,
): Promise<Buffer> {
  const named = await personNames(db)
  const rows = (await readAudit(db, filter, mostInFile)).map((row) => ({
    ...{ Line: String(row.seq), When: row.at, Who: row.actor, Name: row.name, Role: row.role, From: row.address },
    ...{
      Request: row.request,
      What: row.action,
      About: named(row.about),
      Before: row.before ?? '',
      After: row.after ?? '',
    },
    Hash: row.hash,
  }))
  await addAudit(db, { action: 'audit taken away', about: `${rows.length} lines` }, now().toISOString())
  return format === 'csv' ? csvFile(columns, rows) : xlsxFile('Audit', columns, rows)
}
