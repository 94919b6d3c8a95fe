import { statSync } from 'node:fs'
import BetterSqlite3 from 'better-sqlite3'
import { migrations } from '../migrations'

/** Copies the books as they are now, by SQLite's own online backup; others go on working. */
export async function copyBooks(file: string, to: string): Promise<void> {
  const db = new BetterSqlite3(file, { fileMustExist: true, timeout: 30_000 })
  try {
    // A read transaction keeps the copy from beginning anew each time that somebody writes.
    db.exec('BEGIN')
    db.prepare('SELECT COUNT(*) FROM sqlite_schema').get()
    await db.backup(to, { progress: () => 2000 })
  } finally {
    db.close()
  }
}

/** The newest step of the books' form, and whether steps are due; null where there are no books yet. */
export function formOfBooks(file: string): { readonly newest: string; readonly due: boolean } | null {
  try {
    if (statSync(file).size === 0) return null
  } catch {
    return null
  }
  const db = new BetterSqlite3(file, { fileMustExist: true, timeout: 30_000 })
  try {
    const known = db.prepare("SELECT 1 FROM sqlite_schema WHERE name = 'knex_migrations'").get()
    if (!known) return null
    const row = db.prepare('SELECT name FROM knex_migrations ORDER BY id DESC LIMIT 1').get() as
      { name: string } | undefined
    return row ? { newest: row.name, due: row.name < migrations.at(-1)!.name } : null
  } finally {
    db.close()
  }
}

/** Whether this Gharry knows a form of the books, or is older than it. */
export const knowsForm = (name: string): boolean => name === '' || migrations.some((one) => one.name === name)

/** Whether some process has the books open; false where they are missing or damaged. */
export function booksAreOpen(file: string): boolean {
  let db: BetterSqlite3.Database | undefined
  try {
    db = new BetterSqlite3(file, { fileMustExist: true, timeout: 0 })
    db.pragma('locking_mode = EXCLUSIVE')
    db.exec('BEGIN EXCLUSIVE')
    db.exec('ROLLBACK')
    return false
  } catch (error) {
    return (error as { code?: string }).code?.startsWith('SQLITE_BUSY') === true
  } finally {
    db?.close()
  }
}
