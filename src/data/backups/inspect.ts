import BetterSqlite3 from 'better-sqlite3'
import { chainReader, type AuditRow, type ChainCheck } from '../audit'

/** What a copy of the books holds, and whether it is sound. */
export interface Inspected {
  /** What SQLite finds wrong; empty when all is well. */
  readonly damage: readonly string[]
  /** How many rows each table has. */
  readonly tables: Readonly<Record<string, number>>
  readonly audit: ChainCheck
  /** The newest step that its form has. */
  readonly migration: string
}

/**
 * Looks through a copy of the books: SQLite's own check, a count of each table, and the chain of the audit. Takes its
 * time.
 */
export function inspectBooks(file: string): Inspected {
  const db = new BetterSqlite3(file, { fileMustExist: true })
  try {
    const damage = (db.pragma('integrity_check(10)') as { integrity_check: string }[])
      .map((row) => row.integrity_check)
      .filter((text) => text !== 'ok')
    if (damage.length > 0) return { damage, tables: {}, audit: chainReader().end(), migration: '' }
    const names = db
      .prepare(
        "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite~_%' ESCAPE '~' ORDER BY name",
      )
      .all() as { name: string }[]
    const count = (name: string): number =>
      (db.prepare(`SELECT COUNT(*) AS n FROM "${name.replaceAll('"', '""')}"`).get() as { n: number }).n
    const tables = Object.fromEntries(names.map(({ name }) => [name, count(name)]))
    const migration = tables.knex_migrations
      ? (db.prepare('SELECT name FROM knex_migrations ORDER BY id DESC LIMIT 1').get() as { name: string }).name
      : ''
    const chain = chainReader()
    if (tables.audit !== undefined)
      for (const row of db.prepare('SELECT * FROM audit ORDER BY seq').iterate())
        if (!chain.take(row as AuditRow)) break
    return { damage: [], tables, audit: chain.end(), migration }
  } finally {
    db.close()
  }
}
