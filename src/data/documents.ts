import { addAudit } from './audit'
import { fromJson, toJson, type Database } from './database'
import type { KeptContent } from './labelPapers'

/** A document that people edit as a draft, and that holds as it was published last. */
export interface DocumentRow<T> {
  readonly version: number
  readonly draft: T
  /** Null before it was published the first time. */
  readonly published: T | null
}
interface Stored {
  readonly version: number
  readonly draft: string
  readonly published: string | null
}

/** A document by its name; undefined before anybody saved it. */
export async function documentBy<T>(db: Database, name: string): Promise<DocumentRow<T> | undefined> {
  const row = (await db('documents').where({ name }).first()) as Stored | undefined
  return (
    row && {
      version: row.version,
      draft: fromJson<T>(row.draft),
      published: row.published === null ? null : fromJson<T>(row.published),
    }
  )
}

/**
 * Saves the draft of a document that still has the version (0 is a new one), and publishes it if wanted; else gives
 * false.
 */
export async function saveDocument(
  db: Database,
  name: string,
  version: number,
  draft: unknown,
  publish: boolean,
  changedAt: string,
): Promise<boolean> {
  if (!db.isTransaction) return db.transaction((trx) => saveDocument(trx, name, version, draft, publish, changedAt))
  const content = toJson(draft)
  const before = await documentBy<unknown>(db, name)
  const audited = (): Promise<void> =>
    addAudit(
      db,
      { action: publish ? 'document published' : 'document saved', about: name, before: before?.draft, after: draft },
      changedAt,
    )
  const values = { draft: content, version: version + 1, changedAt, ...(publish ? { published: content } : {}) }
  if (version > 0) {
    const saved = (await db('documents').where({ name, version }).update(values)) === 1
    if (saved) await audited()
    return saved
  }
  const [made] = await db('documents')
    .insert({ name, ...values })
    .onConflict('name')
    .ignore()
    .returning('name')
  if (made !== undefined) await audited()
  return made !== undefined
}

/** Keeps a picture under its own name; one that is there stays. */
export async function keepLogo(
  db: Database,
  logo: KeptContent & { readonly id: string; readonly type: string },
  madeAt: string,
): Promise<void> {
  await db('logos')
    .insert({ ...logo, madeAt })
    .onConflict('id')
    .ignore()
}
/** A picture by its name. */
export const logoBy = (db: Database, id: string): Promise<({ readonly type: string } & KeptContent) | undefined> =>
  db('logos').where({ id }).first('type', 'content', 'file')
