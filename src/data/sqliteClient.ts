/*
 * How SQLite is spoken to. It has one writer: whoever is to write says so when the transaction begins, waits without
 * holding up the process, and tries again. What another process holds for a moment is never the reason that work fails
 * for good.
 */
import BetterSqlite3Client from 'knex/lib/dialects/better-sqlite3/index.js'
import SqliteTransaction from 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js'
import { noteTime } from './slowest'

interface Query {
  readonly sql: string
}

/** A transaction that takes the right to write when it begins: what it reads stays true until it has written. */
class WritingTransaction extends SqliteTransaction {
  async begin(connection: unknown): Promise<unknown> {
    await writers.turn()
    return this.query(connection, 'BEGIN IMMEDIATE;')
  }
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

/**
 * Who has just written for long lets others go first: SQLite keeps no queue, and one process that writes again and
 * again would shut out all others.
 */
const writers = {
  began: 0,
  ended: 0,
  async turn(): Promise<void> {
    const gap = performance.now() - writers.ended
    if (writers.ended - writers.began > 50 && gap < 12) await sleep(12 - gap)
  },
  note(sql: string): void {
    if (sql.startsWith('BEGIN')) writers.began = performance.now()
    else if (sql.startsWith('COMMIT') || sql.startsWith('ROLLBACK')) writers.ended = performance.now()
  },
}

// Longer than any transaction takes; after it something is wrong that waiting does not cure.
const maxWait = 60_000

/** `order_id` of `orderId`; what is written with underscores already stays. */
export const columnOf = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)

/** A value as a prepared statement takes it: yes and no are 1 and 0, what is not given is missing. */
export const plainValue = (value: unknown): unknown => {
  if (typeof value === 'boolean') return Number(value)
  return value === undefined ? null : value
}

const propertyOf = (column: string): string =>
  column.replace(/_([a-z0-9])/g, (_, letter: string) => letter.toUpperCase())

/** Columns that are yes or no; the file has 1 and 0. */
const yesOrNo = new Set([
  'notice',
  'text_message',
  'buy_by_itself',
  'pinned',
  'combine',
  'at_once',
  'on',
  'mail_buyers',
  'retired',
  'own',
  'whole',
])

/** Said with a query (`queryContext`), its rows come as they are in the table. */
export const asTheyAre = Symbol('rows as they are')

/** Rows as the code has them: `orderId`, where the file has `order_id`. Rows of one answer have the same columns. */
function rowsOf(answer: unknown, context?: unknown): unknown {
  if (context === asTheyAre) return answer
  if (!Array.isArray(answer)) return isRow(answer) ? (rowsOf([answer]) as Row[])[0] : answer
  const first: unknown = (answer as unknown[])[0]
  if (!isRow(first)) return answer
  const columns = Object.keys(first)
  if (!columns.some((column) => column.includes('_') || yesOrNo.has(column))) return answer
  const properties = columns.map((column) => ({ column, name: propertyOf(column), yesOrNo: yesOrNo.has(column) }))
  return (answer as Row[]).map((row) => {
    const out: Row = {}
    for (const { column, name, yesOrNo } of properties) out[name] = yesOrNo ? row[column] === 1 : row[column]
    return out
  })
}

type Row = Record<string, unknown>
const isRow = (value: unknown): value is Row => typeof value === 'object' && value !== null && !Array.isArray(value)

/** Columns have underscores in the file, and capitals in the code: this is where one becomes the other. */
export const columnNames = {
  // Some statements that change tables ask for the name of nothing.
  wrapIdentifier: (name: string, quote: (name: string) => string): string => quote(name ? columnOf(name) : name),
  postProcessResponse: rowsOf,
}

interface Connection {
  prepare: (sql: string) => unknown
}
const mostKept = 400
/** Lists of many values make ever other statements: those are not kept. */
const longestKept = 3000

/** Statements are read once: the same ones come again and again, and reading one takes longer than most of them run. */
function keepStatements(connection: Connection): Connection {
  const read = connection.prepare.bind(connection)
  const kept = new Map<string, unknown>()
  connection.prepare = (sql) => {
    const known = kept.get(sql)
    if (known !== undefined) {
      // The one that was used last is the last to go.
      kept.delete(sql)
      kept.set(sql, known)
      return known
    }
    const statement = read(sql)
    if (/^\s{0,9}(?:create|alter|drop|pragma|vacuum|analyze)/i.test(sql)) kept.clear()
    else if (sql.length <= longestKept) {
      kept.set(sql, statement)
      const [oldest] = kept.keys()
      if (kept.size > mostKept && oldest !== undefined) kept.delete(oldest)
    }
    return statement
  }
  return connection
}

export class SqliteClient extends BetterSqlite3Client {
  override async acquireRawConnection(): Promise<unknown> {
    return keepStatements((await super.acquireRawConnection()) as Connection)
  }

  transaction(...args: unknown[]): unknown {
    return new WritingTransaction(this, ...args)
  }

  override async _query(connection: unknown, query: Query): Promise<unknown> {
    const until = performance.now() + maxWait
    for (;;) {
      try {
        const from = performance.now()
        const answer = await super._query(connection, query)
        noteTime(query.sql, performance.now() - from)
        writers.note(query.sql)
        return answer
      } catch (error) {
        const { code } = error as { code?: unknown }
        // SQLITE_BUSY_SNAPSHOT comes only in a transaction that read before it wrote: waiting would not end it.
        if ((code !== 'SQLITE_BUSY' && code !== 'SQLITE_BUSY_RECOVERY') || performance.now() > until) throw error
      }
      // Waited for here, not in the database, so that pages and other work go on meanwhile.
      await sleep(2 + 4 * Math.random())
    }
  }
}
