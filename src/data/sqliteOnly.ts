/*
 * Everything that only SQLite knows stands in this file, so that another database can stand behind the same
 * repositories: the pragmas, parts of JSON, and the full-text index with its trigram tokenizer.
 */
import { isMainThread } from 'node:worker_threads'
import type { Knex } from 'knex'
import { pastManner } from './pastManner'
import { columnOf, plainValue } from './sqliteClient'

interface Statement {
  run: (...values: unknown[]) => { lastInsertRowid: number | bigint }
}
interface RawConnection {
  pragma: (text: string) => unknown
  prepare: (sql: string) => Statement
}

const prepared = new WeakMap<RawConnection, Map<string, Statement>>()

/**
 * Inserts many rows of the same columns through one prepared statement, several times as fast as built queries;
 * gives the new row ids. The values of a row stand in the order of the columns: tens of thousands of wide rows are
 * written in a second, and none is made an object first. Only within a transaction: it uses the transaction's own
 * connection.
 */
export async function insertMany<T>(
  trx: Knex,
  table: string,
  columns: readonly string[],
  list: readonly T[],
  valuesOf: (entry: T, place: number) => readonly unknown[],
  /** The columns of a key under which rows that are there already are written over; none: they are an error. */
  over: readonly string[] = [],
): Promise<number[]> {
  if (list.length === 0) return []
  const statement = await preparedFor(
    trx,
    `INSERT OR ${over.length > 0 ? 'REPLACE' : 'ABORT'} INTO ${table} (${columns.map((column) => `"${columnOf(column)}"`).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
  )
  return list.map((entry, place) => Number(statement.run(...valuesOf(entry, place).map(plainValue)).lastInsertRowid))
}

/** What is written into many rows: which columns, of rows that are found by their key (`id`). */
export interface Written {
  readonly table: string
  readonly key?: readonly string[]
  readonly columns: readonly string[]
}

/**
 * Writes columns of many rows through one prepared statement; as `insertMany`, within a transaction.
 * @param valuesOf the values of a row's key, and behind them those of its columns
 */
export async function updateMany<T>(
  trx: Knex,
  { table, key = ['id'], columns }: Written,
  list: readonly T[],
  valuesOf: (entry: T) => readonly unknown[],
): Promise<void> {
  if (list.length === 0) return
  const statement = await preparedFor(
    trx,
    `UPDATE ${table} SET ${columns.map((column) => `"${columnOf(column)}" = ?`).join(', ')}
     WHERE ${key.map((column) => `"${columnOf(column)}" = ?`).join(' AND ')}`,
  )
  for (const entry of list) {
    const values = valuesOf(entry).map(plainValue)
    statement.run(...values.slice(key.length), ...values.slice(0, key.length))
  }
}

/** A statement of the transaction's own connection, prepared when it is first asked for. */
async function preparedFor(trx: Knex, sql: string): Promise<Statement> {
  const connection = await (trx.client as { acquireConnection: () => Promise<RawConnection> }).acquireConnection()
  const statements = prepared.get(connection) ?? new Map<string, Statement>()
  prepared.set(connection, statements)
  const statement = statements.get(sql) ?? connection.prepare(sql)
  statements.set(sql, statement)
  return statement
}

/** Sets up a fresh connection: write-ahead log, foreign keys, sizes, and how long it waits for others. */
export function preparePragmas(
  connection: RawConnection,
  done: (error: Error | null, connection: RawConnection) => void,
): void {
  connection.pragma('journal_mode = WAL')
  // FULL: a label that is paid for survives a power cut too.
  connection.pragma('synchronous = FULL')
  connection.pragma('foreign_keys = ON')
  // What is taken out is overwritten: a name is in no free page of the file.
  connection.pragma('secure_delete = ON')
  // Waiting within the database would hold up the whole process: `SqliteClient` waits and tries again.
  connection.pragma('busy_timeout = 20')
  // Threads beside the own one read what it has just written, or everything once: a little of it is enough.
  connection.pragma(`cache_size = ${isMainThread ? -65536 : -8192}`)
  // 32 MB instead of 4: an import writes the same pages of the indexes again and again.
  connection.pragma('wal_autocheckpoint = 8000')
  connection.pragma('temp_store = MEMORY')
  done(null, connection)
}

/** A text of JSON without one of its parts, which the database leaves out so that nobody has to read it. */
export const jsonWithout = (db: Knex, column: string, part: string, as: string): Knex.Raw =>
  db.raw('json_remove(??, ?) as ??', [column, `$.${part}`, as])

/** Makes the table that orders are searched in. */
export async function createSearchTable(db: Knex): Promise<void> {
  await db.raw(`CREATE VIRTUAL TABLE order_search USING fts5(body, tokenize = 'trigram', detail = 'full')`)
}

/** Replaces the searchable text of orders; `fresh` ones have none yet. Within a transaction. */
export async function writeSearch(
  trx: Knex,
  rows: readonly { readonly id: number; readonly body: string }[],
  fresh = false,
): Promise<void> {
  for (let i = 0; !fresh && i < rows.length; i += 500) {
    const part = rows.slice(i, i + 500)
    await trx.raw(
      `DELETE FROM order_search WHERE rowid IN (${part.map(() => '?').join(',')})`,
      part.map((row) => row.id),
    )
  }
  await insertMany(trx, 'order_search', ['rowid', 'body'], rows, ({ id, body }) => [id, body])
}

/**
 * Restricts a query over `orders` to those whose searchable text holds every word (three letters or more); of them to
 * the youngest so many, where that is enough.
 */
export function whereFound(query: Knex.QueryBuilder, words: readonly string[], youngest?: number): void {
  const phrase = words.map((word) => `"${word.replace(/"/g, '""')}"`).join(' AND ')
  const limit = youngest === undefined ? '' : ' ORDER BY rowid DESC LIMIT ?'
  void query.whereRaw(`orders.id IN (SELECT rowid FROM order_search WHERE order_search MATCH ?${limit})`, [
    phrase,
    ...(youngest === undefined ? [] : [youngest]),
  ])
}

const countedTexts = ['state', 'channel_id', 'country', 'service', 'location'] as const
const countedValues = (row: 'NEW' | 'OLD' | 'orders'): string =>
  [
    ...countedTexts.map((column) => `COALESCE(${row}.${column}, '')`),
    `COALESCE(${row}.days_late, 0) > 0`,
    `${row}.pinned`,
  ].join(', ')

/**
 * Keeps `order_counts` and `order_tag_counts` by triggers, so that whoever changes orders need not think of them;
 * counts what is there.
 */
export async function keepOrderCounts(db: Knex): Promise<void> {
  const add = (row: 'NEW' | 'OLD', n: 1 | -1): string =>
    `INSERT INTO order_counts(${countedTexts.join(', ')}, late, pinned, n) VALUES (${countedValues(row)}, ${n})
     ON CONFLICT DO UPDATE SET n = n + ${n};`
  const addTag = (row: 'NEW' | 'OLD', n: 1 | -1): string =>
    `INSERT INTO order_tag_counts(tag, n) VALUES (${row}.tag, ${n}) ON CONFLICT DO UPDATE SET n = n + ${n};`
  const columns = [...countedTexts, 'days_late', 'pinned']
  await db.raw(
    `INSERT INTO order_counts SELECT ${countedValues('orders')}, COUNT(*) FROM orders GROUP BY 1, 2, 3, 4, 5, 6, 7`,
  )
  await db.raw('INSERT INTO order_tag_counts SELECT tag, COUNT(*) FROM order_tags GROUP BY tag')
  await db.raw(`CREATE TRIGGER orders_counted_in AFTER INSERT ON orders BEGIN ${add('NEW', 1)} END`)
  await db.raw(`CREATE TRIGGER orders_counted_out AFTER DELETE ON orders BEGIN ${add('OLD', -1)} END`)
  await db.raw(
    `CREATE TRIGGER orders_counted_anew AFTER UPDATE OF ${columns.join(', ')} ON orders
     WHEN ${columns.map((column) => `OLD.${column} IS NOT NEW.${column}`).join(' OR ')}
     BEGIN ${add('OLD', -1)} ${add('NEW', 1)} END`,
  )
  await db.raw(`CREATE TRIGGER tags_counted_in AFTER INSERT ON order_tags BEGIN ${addTag('NEW', 1)} END`)
  await db.raw('CREATE INDEX orders_number_any_case ON orders(number COLLATE NOCASE)')
  await db.raw(`CREATE TRIGGER tags_counted_out AFTER DELETE ON order_tags BEGIN ${addTag('OLD', -1)} END`)
}

/**
 * Keeps what is in stock as its moves are written, and what labels hold of it as they are voided or leave: by triggers,
 * so that no way on which a label changes can forget it.
 */
export async function keepStock(db: Knex): Promise<void> {
  const now = "strftime('%Y-%m-%dT%H:%M:%fZ', 'now')"
  // Corrections, and what begins or ends to be there, may change where waiting orders leave from.
  await db.raw(
    `CREATE TRIGGER stock_moved AFTER INSERT ON stock_moves BEGIN
       INSERT INTO stock(location, sku, on_hand, reserved, move_id, stale)
       VALUES (NEW.location, NEW.sku, NEW.on_hand, NEW.reserved, NEW.id, 1)
       ON CONFLICT(location, sku) DO UPDATE SET
         stale = CASE WHEN stale = 1 OR NEW.kind NOT IN ('bought', 'given back', 'sent', 'put back')
           OR (on_hand > reserved) <> (on_hand + NEW.on_hand > reserved + NEW.reserved) THEN 1 ELSE 0 END,
         on_hand = on_hand + NEW.on_hand, reserved = reserved + NEW.reserved, move_id = NEW.id;
     END`,
  )
  const held = (kind: string, states: string, onHand: string, reserved: string, after: string): string =>
    `INSERT INTO stock_moves(at, location, sku, kind, on_hand, reserved, label_id)
       SELECT ${now}, location, sku, ${kind}, ${onHand}, ${reserved}, label_id FROM stock_held
       WHERE label_id = NEW.id AND state IN (${states});
     UPDATE stock_held SET state = '${after}' WHERE label_id = NEW.id AND state IN (${states});`
  await db.raw(
    `CREATE TRIGGER stock_given_back AFTER UPDATE OF state ON labels
     WHEN NEW.state IN ('voided', 'failed') AND OLD.state NOT IN ('voided', 'failed') BEGIN
       ${held("CASE state WHEN 'sent' THEN 'put back' ELSE 'given back' END", "'held', 'sent'", "CASE state WHEN 'sent' THEN quantity ELSE 0 END", "CASE state WHEN 'held' THEN -quantity ELSE 0 END", 'back')}
     END`,
  )
  await db.raw(
    `CREATE TRIGGER stock_sent AFTER UPDATE OF dispatched_at ON labels
     WHEN NEW.dispatched_at IS NOT NULL AND OLD.dispatched_at IS NULL BEGIN
       ${held("'sent'", "'held'", '-quantity', '-quantity', 'sent')}
     END`,
  )
}

/**
 * Notes which orders of a day change whose past orders are kept as columns: a new one, other facts or pins, and a state
 * that is decided in another way (nobody ships it, it waits, it went).
 */
export async function keepPastChanges(db: Knex): Promise<void> {
  const note = (order: string, day: string): string =>
    `INSERT INTO past_changes(day, order_id, times, seen) SELECT day, ${order}, 1, 0 FROM past_days WHERE day = ${day}
     ON CONFLICT(day, order_id) DO UPDATE SET times = times + 1;`
  const dayOf = (row: 'NEW' | 'OLD'): string => `SUBSTR(${row}.placed_at, 1, 10)`
  const dayOfOrder = (row: 'NEW' | 'OLD'): string =>
    `(SELECT SUBSTR(placed_at, 1, 10) FROM orders WHERE id = ${row}.order_id)`
  await db.raw(`CREATE TRIGGER past_order_came AFTER INSERT ON orders BEGIN ${note('NEW.id', dayOf('NEW'))} END`)
  await db.raw(
    `CREATE TRIGGER past_order_changed AFTER UPDATE OF state, placed_at ON orders
     WHEN ${pastManner('OLD')} <> ${pastManner('NEW')} OR OLD.placed_at <> NEW.placed_at
     BEGIN ${note('NEW.id', dayOf('OLD'))} ${note('NEW.id', dayOf('NEW'))} END`,
  )
  await db.raw(
    `CREATE TRIGGER past_facts_changed AFTER UPDATE OF facts ON order_facts
     BEGIN ${note('NEW.order_id', dayOfOrder('NEW'))} END`,
  )
  for (const [event, row] of [
    ['INSERT', 'NEW'],
    ['UPDATE', 'NEW'],
    ['DELETE', 'OLD'],
  ] as const)
    await db.raw(
      `CREATE TRIGGER past_pins_${event.toLowerCase()} AFTER ${event} ON hand_pins
       BEGIN ${note(`${row}.order_id`, dayOfOrder(row))} END`,
    )
}

/** Restricts a query to rows whose value begins with a text, whatever its case; by an index of `COLLATE NOCASE`. */
export function whereBegins(query: Knex.QueryBuilder, column: string, text: string): void {
  void query.whereRaw('?? COLLATE NOCASE >= ? AND ?? COLLATE NOCASE < ?', [column, text, column, `${text}\u{10ffff}`])
}

/** A column that no index is to be used for: the reader knows better which one serves. */
export const unindexed = (db: Knex, column: string): string =>
  // The builder takes it wherever it takes a name, though its types do not say so.
  db.raw('+??', [column]) as unknown as string

/** Lets the query planner know how the values lie; after many rows changed. */
export async function analyse(db: Knex): Promise<void> {
  await db.raw('PRAGMA analysis_limit = 1000')
  await db.raw('ANALYZE')
}

/** SQL: how many days a day (or moment) is after another. */
export const daysAfter = (day: string, from: string): string =>
  `CAST(ROUND(JULIANDAY(SUBSTR(${day}, 1, 10)) - JULIANDAY(${from})) AS INTEGER)`
/** SQL: the weekday of a day; 0 is Sunday. */
export const weekdayOfDay = (day: string): string => `CAST(STRFTIME('%w', ${day}) AS INTEGER)`

/** Whether the facts of an order in a JSON column are of one line, of this SKU. */
export const onlyItemIs = (db: Knex, column: string, sku: string): Knex.Raw =>
  db.raw(`json_array_length(??, '$.items') = 1 AND json_extract(??, '$.items[0].sku') = ?`, [column, column, sku])

/** The SKU of orders of one piece, from their facts; null for others. `orders` is the table that is asked. */
export const skuOfOnlyPiece = (db: Knex, orders: string): Knex.Raw =>
  db.raw(
    `CASE WHEN ??.quantity = 1 THEN (SELECT json_extract(order_facts.facts, '$.items[0].sku') FROM order_facts WHERE order_facts.order_id = ??.id) END`,
    [orders, orders],
  )

/** A file is not divided: what is old leaves it. */
export const divideGrown = (_db: Knex): Promise<void> => Promise.resolve()
/** What is missing comes first in every index. */
export const indexAsSorted = (_db: Knex, _tables: readonly string[]): Promise<void> => Promise.resolve()
/** There are no parts to be made. */
export const keepParts = (_db: Knex): Promise<number> => Promise.resolve(0)

/** Keeps the audit as it was written: what is in it is never changed and never taken out. */
export async function keepAudit(db: Knex): Promise<void> {
  for (const [name, event] of [
    ['audit_stays', 'UPDATE'],
    ['audit_is_kept', 'DELETE'],
  ])
    await db.raw(
      `CREATE TRIGGER ${name} BEFORE ${event} ON audit BEGIN SELECT RAISE(ABORT, 'the audit is only added to'); END`,
    )
}

/** Takes away what keeps the audit: for tests of what is found then. */
export async function unkeepAudit(db: Knex): Promise<void> {
  for (const name of ['audit_stays', 'audit_is_kept']) await db.raw(`DROP TRIGGER ${name}`)
}

/** The names of all tables. */
export const tableNames = (db: Knex): Promise<string[]> =>
  db('sqlite_schema').where({ type: 'table' }).pluck<string[]>('name')

/** How many bytes the database takes; null where it is a file, which says so itself. */
export const databaseBytes = (_db: Knex): Promise<number | null> => Promise.resolve(null)

/** Which database, and of what version. */
export async function engineVersion(db: Knex): Promise<string> {
  const [row] = (await db.raw('SELECT sqlite_version() AS v')) as { v: string }[]
  return `SQLite ${row?.v ?? ''}`
}

/** Takes orders out of the search, and their words out of its file; within a transaction. */
export async function forgetSearch(trx: Knex, ids: readonly number[]): Promise<void> {
  await trx.raw("INSERT INTO order_search(order_search, rank) VALUES ('secure-delete', 1)")
  await trx.raw(`DELETE FROM order_search WHERE rowid IN (${ids.map(() => '?').join(',')})`, [...ids])
  // Only here: all other changes of the search would become slower.
  await trx.raw("INSERT INTO order_search(order_search, rank) VALUES ('secure-delete', 0)")
}

/** What the clock of the database says; the machine's own does here. */
export const databaseClock = (_db: Knex): Promise<number | null> => Promise.resolve(null)

/** Takes rows: there is one writer at a time. */
export const takeRows = <Row>(
  db: Knex,
  table: string,
  ids: Knex.QueryBuilder,
  change: Readonly<Record<string, unknown>>,
): Promise<Row[]> => db(table).whereIn('id', ids).update(change).returning('*') as unknown as Promise<Row[]>

/** Nobody is told by a file: workers look. */
export const wakeWorkers = (_db: Knex): Promise<void> => Promise.resolve()

/** What tells a worker of new work. */
export interface WorkBell {
  /** Whether new work is told now; where it is not, one looks more often. */
  readonly rings: () => boolean
  /** Whether this worker is the one that keeps the schedule; where all may, it is. */
  readonly elected: () => Promise<boolean>
  readonly close: () => Promise<void>
}

/** Nobody is told; every worker keeps the schedule, whose steps bear that. */
export const hearWork = (_db: Knex, _wake: (table: string) => void): WorkBell => ({
  rings: () => false,
  elected: () => Promise.resolve(true),
  close: () => Promise.resolve(),
})

/** A table as it is copied to another database. */
export interface TableShape {
  readonly name: string
  readonly columns: readonly { readonly name: string; readonly whole: boolean }[]
  /** The columns of its key, or what tells the rows of a table without one apart. */
  readonly key: readonly string[]
  /** Such a thing is no column: how it is asked for, and how it is given as a value. */
  readonly hidden?: { readonly select: string; readonly value: string }
  /** The tables that must be filled before it. */
  readonly refers: readonly string[]
}

/** All tables with what they hold; the search has tables of its own. */
export async function tableShapes(db: Knex): Promise<TableShape[]> {
  const names = (await tableNames(db)).filter((name) => !/^(?:sqlite_|order_search_)/.test(name))
  const shapes: TableShape[] = []
  for (const name of names) {
    if (name === 'order_search') {
      shapes.push({
        name,
        columns: ['rowid', 'body'].map((column) => ({ name: column, whole: false })),
        key: ['rowid'],
        refers: ['orders'],
      })
      continue
    }
    const columns = (await db.raw(`PRAGMA table_info(${name})`)) as { name: string; type: string; pk: number }[]
    const foreign = (await db.raw(`PRAGMA foreign_key_list(${name})`)) as { table: string }[]
    const key = columns.filter(({ pk }) => pk > 0).sort((a, b) => a.pk - b.pk)
    shapes.push({
      name,
      columns: columns.map((column) => ({ name: column.name, whole: /int|bool/i.test(column.type) })),
      ...(key.length > 0
        ? { key: key.map((column) => column.name) }
        : { key: ['rowid'], hidden: { select: 'rowid', value: '?' } }),
      refers: [...new Set(foreign.map(({ table }) => table))],
    })
  }
  return shapes
}

/** Takes everything out of tables; those that refer to others come behind them. */
export async function emptyTables(trx: Knex, names: readonly string[]): Promise<void> {
  for (const name of [...names].reverse()) await trx(name).delete()
}

/** Numbers that are given out go on behind those that are there: here they do so by themselves. */
export const goOnCounting = (_db: Knex, _shape: TableShape): Promise<void> => Promise.resolve()
