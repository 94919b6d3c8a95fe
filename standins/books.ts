import { mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import Database from 'better-sqlite3'

/** The books of one stand-in: documents by kind and id, each change with a running number. They outlive a restart. */
export interface Books {
  readonly get: <T>(kind: string, id: string) => T | undefined
  readonly put: (kind: string, id: string, document: unknown) => void
  /** Documents of a kind that changed after a number, oldest change first. */
  readonly changedAfter: <T>(kind: string, after: number, most: number) => { id: string; seq: number; document: T }[]
  readonly newest: <T>(kind: string, most: number) => { id: string; seq: number; document: T }[]
  readonly count: (kind: string) => number
  readonly together: <T>(work: () => T) => T
  readonly clear: () => void
  readonly close: () => void
}

export function openBooks(file: string): Books {
  if (file !== ':memory:') mkdirSync(dirname(file), { recursive: true })
  const db = new Database(file)
  db.pragma('journal_mode = WAL')
  db.exec(
    `CREATE TABLE IF NOT EXISTS books (kind TEXT, id TEXT, seq INTEGER, document TEXT, PRIMARY KEY (kind, id)); CREATE INDEX IF NOT EXISTS books_seq ON books(kind, seq); CREATE TABLE IF NOT EXISTS running (n INTEGER); INSERT INTO running SELECT 0 WHERE NOT EXISTS (SELECT 1 FROM running)`,
  )
  const one = db.prepare('SELECT document FROM books WHERE kind = ? AND id = ?')
  const next = db.prepare('UPDATE running SET n = n + 1 RETURNING n')
  const write = db.prepare(
    'INSERT INTO books VALUES (?, ?, ?, ?) ON CONFLICT (kind, id) DO UPDATE SET seq = excluded.seq, document = excluded.document',
  )
  const after = db.prepare('SELECT id, seq, document FROM books WHERE kind = ? AND seq > ? ORDER BY seq LIMIT ?')
  const last = db.prepare('SELECT id, seq, document FROM books WHERE kind = ? ORDER BY seq DESC LIMIT ?')
  const howMany = db.prepare('SELECT COUNT(*) AS n FROM books WHERE kind = ?')
  type Row = { id: string; seq: number; document: string }
  const read = <T>(rows: unknown[]): { id: string; seq: number; document: T }[] =>
    (rows as Row[]).map((row) => ({ id: row.id, seq: row.seq, document: JSON.parse(row.document) as T }))
  return {
    get: <T>(kind: string, id: string) => {
      const row = one.get(kind, id) as { document: string } | undefined
      return row && (JSON.parse(row.document) as T)
    },
    put: (kind, id, document) => void write.run(kind, id, (next.get() as { n: number }).n, JSON.stringify(document)),
    changedAfter: <T>(kind: string, seq: number, most: number) => read<T>(after.all(kind, seq, most)),
    newest: <T>(kind: string, most: number) => read<T>(last.all(kind, most)),
    count: (kind) => (howMany.get(kind) as { n: number }).n,
    together: (work) => db.transaction(work)(),
    clear: () => void db.exec('DELETE FROM books'),
    close: () => void db.close(),
  }
}
