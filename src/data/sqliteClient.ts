/*
 * How SQLite is spoken to. It has one writer: whoever is to write says so when the transaction begins, waits without holding
 * up the process, and tries again. What another process holds for a moment is never the reason that work fails for good.
 */
import BetterSqlite3Client from 'knex/lib/dialects/better-sqlite3/index.js'
import SqliteTransaction from 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js'

interface Query { readonly sql: string }

/** A transaction that takes the right to write when it begins: what it reads stays true until it has written. */
class WritingTransaction extends SqliteTransaction {
  begin(connection: unknown): Promise<unknown> {
    return this.query(connection, 'BEGIN IMMEDIATE;')
  }
}

// Longer than any transaction takes; after it something is wrong that waiting does not mend.
const longestWait = 60_000

export class SqliteClient extends BetterSqlite3Client {
  transaction(...args: unknown[]): unknown {
    return new WritingTransaction(this, ...args)
  }

  override async _query(connection: unknown, query: Query): Promise<unknown> {
    const until = performance.now() + longestWait
    for (let wait = 2; ; wait = Math.min(60, wait * 1.6)) {
      try {
        return await super._query(connection, query)
      } catch (error) {
        const { code } = error as { code?: unknown }
        // SQLITE_BUSY_SNAPSHOT comes only in a transaction that read before it wrote: waiting would not end it.
        if ((code !== 'SQLITE_BUSY' && code !== 'SQLITE_BUSY_RECOVERY') || performance.now() > until) throw error
      }
      // Waited for here, not in the database, so that pages and other work go on meanwhile.
      await new Promise((resolve) => setTimeout(resolve, wait * (0.5 + Math.random())))
    }
  }
}
