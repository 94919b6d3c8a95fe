/*
 * Everything that only PostgreSQL knows, under the names that `sqliteOnly.ts` has for the same: parts of JSON, the index
 * of trigrams, triggers, days.
 */
import type { Knex } from 'knex'
import { columnOf, plainValue } from './sqliteClient'
import type { TableShape, WorkBell } from './sqliteOnly'
import { makeWorkTriggers, ringWork } from './workBell'

/** PostgreSQL takes at most 65,535 values in a statement. */
const mostValues = 30_000

const placeholders = (columns: number): string => `(${Array.from({ length: columns }, () => '?').join(', ')})`

interface Answer<Row> {
  readonly rows: readonly Row[]
}

/** Inserts many rows of the same columns, thousands in a statement; gives their ids where the table has such. */
export async function insertMany<T>(
  trx: Knex,
  table: string,
  columns: readonly string[],
  list: readonly T[],
  valuesOf: (entry: T, place: number) => readonly unknown[],
  over: readonly string[] = [],
): Promise<number[]> {
  const names = columns.map((column) => `"${columnOf(column)}"`)
  const ids: number[] = []
  const size = Math.max(1, Math.floor(mostValues / columns.length))
  const conflict =
    over.length === 0
      ? ''
      : ` ON CONFLICT (${over.map((column) => `"${columnOf(column)}"`).join(', ')}) DO UPDATE SET ${names.map((name) => `${name} = excluded.${name}`).join(', ')}`
  for (let from = 0; from < list.length; from += size) {
    const part = list.slice(from, from + size)
    const { rows } = (await trx.raw(
      `INSERT INTO ${table} (${names.join(', ')}) VALUES ${part.map(() => placeholders(columns.length)).join(', ')}${conflict} RETURNING *`,
      part.flatMap((entry, place) => valuesOf(entry, from + place).map(plainValue)) as Knex.RawBinding[],
    )) as Answer<{ id?: number }>
    for (const row of rows) ids.push(Number(row.id ?? 0))
  }
  return ids
}

/** Writes columns of many rows, each found by its `id`, hundreds in a statement. */
export async function updateMany<T>(
  trx: Knex,
  table: string,
  columns: readonly string[],
  list: readonly T[],
  idOf: (entry: T) => number,
  valuesOf: (entry: T) => readonly unknown[],
): Promise<void> {
  const typed = await typesOf(trx, table)
  const names = columns.map(columnOf)
  const size = Math.max(1, Math.floor(mostValues / (columns.length + 1)))
  // The types are said once, in a first row that no id has.
  const first = `(CAST(NULL AS bigint), ${names.map((name) => `CAST(NULL AS ${typed.get(name) ?? 'text'})`).join(', ')})`
  for (let from = 0; from < list.length; from += size) {
    const part = list.slice(from, from + size)
    await trx.raw(
      `UPDATE ${table} SET ${names.map((name) => `"${name}" = given."${name}"`).join(', ')}
       FROM (VALUES ${first}, ${part.map(() => placeholders(columns.length + 1)).join(', ')})
         AS given (id, ${names.map((name) => `"${name}"`).join(', ')})
       WHERE ${table}.id = given.id`,
      part.flatMap((entry) => [idOf(entry), ...valuesOf(entry).map(plainValue)]) as Knex.RawBinding[],
    )
  }
}

const known = new WeakMap<object, Map<string, ReadonlyMap<string, string>>>()
/** The types of a table's columns, asked for once. */
async function typesOf(db: Knex, table: string): Promise<ReadonlyMap<string, string>> {
  const { config } = db.client as { config: object }
  const tables = known.get(config) ?? new Map<string, ReadonlyMap<string, string>>()
  known.set(config, tables)
  const before = tables.get(table)
  if (before) return before
  const { rows } = (await db.raw(
    `SELECT column_name AS name, data_type AS type FROM information_schema.columns
     WHERE table_schema = current_schema() AND table_name = ?`,
    [table],
  )) as Answer<{ name: string; type: string }>
  const types = new Map(rows.map(({ name, type }) => [name, type]))
  tables.set(table, types)
  return types
}

/** A text of JSON without one of its parts. */
export const jsonWithout = (db: Knex, column: string, part: string, as: string): Knex.Raw =>
  db.raw(`CAST(CAST(?? AS jsonb) - ? AS text) AS ??`, [column, part, as])

/** Makes the table that orders are searched in; without the right to add trigrams, it is searched without an index. */
export async function createSearchTable(db: Knex): Promise<void> {
  await db.raw('CREATE TABLE order_search (id bigint PRIMARY KEY, body text NOT NULL)')
  const { rows } = (await db.raw(
    `SELECT 1 AS there FROM pg_available_extensions WHERE name = 'pg_trgm' AND (installed_version IS NOT NULL OR
       (SELECT usesuper FROM pg_user WHERE usename = current_user) OR has_database_privilege(current_database(), 'CREATE'))`,
  )) as Answer<object>
  if (rows.length === 0) return
  await db.raw('CREATE EXTENSION IF NOT EXISTS pg_trgm')
  await db.raw('CREATE INDEX order_search_trigrams ON order_search USING gin (body gin_trgm_ops)')
}

/** Replaces the searchable text of orders; `fresh` ones have none yet. Within a transaction. */
export async function writeSearch(
  trx: Knex,
  rows: readonly { readonly id: number; readonly body: string }[],
  fresh = false,
): Promise<void> {
  await insertMany(trx, 'order_search', ['id', 'body'], rows, ({ id, body }) => [id, body], fresh ? [] : ['id'])
}

const likeText = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`

/** Restricts a query over `orders` to those whose searchable text holds every word; of them to the youngest so many. */
export function whereFound(query: Knex.QueryBuilder, words: readonly string[], youngest?: number): void {
  const holds = words.map(() => 'body LIKE ?').join(' AND ')
  const limit = youngest === undefined ? '' : ' ORDER BY id DESC LIMIT ?'
  void query.whereRaw(`orders.id IN (SELECT id FROM order_search WHERE ${holds}${limit})`, [
    ...words.map((word) => likeText(word.toLowerCase())),
    ...(youngest === undefined ? [] : [youngest]),
  ])
}

/** Takes orders out of the search; within a transaction. */
export async function forgetSearch(trx: Knex, ids: readonly number[]): Promise<void> {
  await trx('order_search')
    .whereIn('id', [...ids])
    .delete()
}

/** A function of triggers, and a trigger that calls it. */
async function trigger(db: Knex, name: string, when: string, body: string): Promise<void> {
  await db.raw(
    `CREATE FUNCTION ${name}() RETURNS trigger LANGUAGE plpgsql AS $trigger$ BEGIN ${body} RETURN NULL; END $trigger$`,
  )
  await db.raw(`CREATE TRIGGER ${name} ${when} EXECUTE FUNCTION ${name}()`)
}

const countedTexts = ['state', 'channel_id', 'country', 'service', 'location'] as const
const countedValues = (row: 'NEW' | 'OLD' | 'orders'): string =>
  [
    ...countedTexts.map((column) => `COALESCE(${row}.${column}, '')`),
    `CASE WHEN COALESCE(${row}.days_late, 0) > 0 THEN 1 ELSE 0 END`,
    `${row}.pinned`,
  ].join(', ')

/** Keeps `order_counts` and `order_tag_counts` by triggers; counts what is there. */
export async function keepOrderCounts(db: Knex): Promise<void> {
  const key = [...countedTexts, 'late', 'pinned'].join(', ')
  const add = (row: 'NEW' | 'OLD', n: 1 | -1): string =>
    `INSERT INTO order_counts(${key}, n) VALUES (${countedValues(row)}, ${n})
     ON CONFLICT (${key}) DO UPDATE SET n = order_counts.n + ${n};`
  const addTag = (row: 'NEW' | 'OLD', n: 1 | -1): string =>
    `INSERT INTO order_tag_counts(tag, n) VALUES (${row}.tag, ${n})
     ON CONFLICT (tag) DO UPDATE SET n = order_tag_counts.n + ${n};`
  const columns = [...countedTexts, 'days_late', 'pinned']
  await db.raw(
    `INSERT INTO order_counts(${key}, n) SELECT ${countedValues('orders')}, COUNT(*) FROM orders GROUP BY 1, 2, 3, 4, 5, 6, 7`,
  )
  await db.raw('INSERT INTO order_tag_counts(tag, n) SELECT tag, COUNT(*) FROM order_tags GROUP BY tag')
  await trigger(db, 'orders_counted_in', 'AFTER INSERT ON orders FOR EACH ROW', add('NEW', 1))
  await trigger(db, 'orders_counted_out', 'AFTER DELETE ON orders FOR EACH ROW', add('OLD', -1))
  await trigger(
    db,
    'orders_counted_anew',
    `AFTER UPDATE OF ${columns.join(', ')} ON orders FOR EACH ROW
     WHEN (${columns.map((column) => `OLD.${column} IS DISTINCT FROM NEW.${column}`).join(' OR ')})`,
    `${add('OLD', -1)} ${add('NEW', 1)}`,
  )
  await trigger(db, 'tags_counted_in', 'AFTER INSERT ON order_tags FOR EACH ROW', addTag('NEW', 1))
  await trigger(db, 'tags_counted_out', 'AFTER DELETE ON order_tags FOR EACH ROW', addTag('OLD', -1))
  await db.raw('CREATE INDEX orders_number_any_case ON orders(LOWER(number))')
}

/** Keeps what is in stock as its moves are written, and what labels hold of it as they are voided or leave. */
export async function keepStock(db: Knex): Promise<void> {
  const now = `to_char(clock_timestamp() AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`
  await trigger(
    db,
    'stock_moved',
    'AFTER INSERT ON stock_moves FOR EACH ROW',
    `INSERT INTO stock(location, sku, on_hand, reserved, move_id, stale)
       VALUES (NEW.location, NEW.sku, NEW.on_hand, NEW.reserved, NEW.id, 1)
       ON CONFLICT (location, sku) DO UPDATE SET
         stale = CASE WHEN stock.stale = 1 OR NEW.kind NOT IN ('bought', 'given back', 'sent', 'put back')
           OR (stock.on_hand > stock.reserved) <> (stock.on_hand + NEW.on_hand > stock.reserved + NEW.reserved)
           THEN 1 ELSE 0 END,
         on_hand = stock.on_hand + NEW.on_hand, reserved = stock.reserved + NEW.reserved, move_id = NEW.id;`,
  )
  const held = (kind: string, states: string, onHand: string, reserved: string, after: string): string =>
    `INSERT INTO stock_moves(at, location, sku, kind, on_hand, reserved, label_id)
       SELECT ${now}, location, sku, ${kind}, ${onHand}, ${reserved}, label_id FROM stock_held
       WHERE label_id = NEW.id AND state IN (${states});
     UPDATE stock_held SET state = '${after}' WHERE label_id = NEW.id AND state IN (${states});`
  await trigger(
    db,
    'stock_given_back',
    `AFTER UPDATE OF state ON labels FOR EACH ROW
     WHEN (NEW.state IN ('voided', 'failed') AND OLD.state NOT IN ('voided', 'failed'))`,
    held(
      "CASE state WHEN 'sent' THEN 'put back' ELSE 'given back' END",
      "'held', 'sent'",
      "CASE state WHEN 'sent' THEN quantity ELSE 0 END",
      "CASE state WHEN 'held' THEN -quantity ELSE 0 END",
      'back',
    ),
  )
  await trigger(
    db,
    'stock_sent',
    `AFTER UPDATE OF dispatched_at ON labels FOR EACH ROW
     WHEN (NEW.dispatched_at IS NOT NULL AND OLD.dispatched_at IS NULL)`,
    held("'sent'", "'held'", '-quantity', '-quantity', 'sent'),
  )
}

/** Keeps the audit as it was written: what is in it is never changed and never taken out. */
export async function keepAudit(db: Knex): Promise<void> {
  await trigger(
    db,
    'audit_stays',
    'BEFORE UPDATE OR DELETE ON audit FOR EACH ROW',
    `RAISE EXCEPTION 'the audit is only added to';`,
  )
}

/** Takes away what keeps the audit: for tests of what is found then. */
export async function unkeepAudit(db: Knex): Promise<void> {
  await db.raw('DROP TRIGGER audit_stays ON audit')
}

/** The names of all tables. */
export async function tableNames(db: Knex): Promise<string[]> {
  const { rows } = (await db.raw(
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = current_schema()`,
  )) as Answer<{ name: string }>
  return rows.map(({ name }) => name)
}

/** How many bytes the database takes; null where it is a file, which says so itself. */
export async function databaseBytes(db: Knex): Promise<number | null> {
  const { rows } = (await db.raw('SELECT pg_database_size(current_database()) AS bytes')) as Answer<{ bytes: number }>
  return rows[0]?.bytes ?? 0
}

/** Restricts a query to rows whose value begins with a text, whatever its case. */
export function whereBegins(query: Knex.QueryBuilder, column: string, text: string): void {
  void query.whereRaw('LOWER(??) >= LOWER(?) AND LOWER(??) < LOWER(?)', [column, text, column, `${text}\u{10ffff}`])
}

/** A column as it is: which index serves is the planner's choice here. */
export const unindexed = (_db: Knex, column: string): string => column

/** Lets the query planner know how the values lie; after many rows changed. */
export async function analyse(db: Knex): Promise<void> {
  await db.raw('ANALYZE')
}

/** SQL: how many days a day (or moment) is after another. */
export const daysAfter = (day: string, from: string): string =>
  `(CAST(NULLIF(SUBSTR(${day}, 1, 10), '') AS date) - CAST(NULLIF(${from}, '') AS date))`
/** SQL: the weekday of a day; 0 is Sunday. */
export const weekdayOfDay = (day: string): string =>
  `CAST(EXTRACT(DOW FROM CAST(NULLIF(${day}, '') AS date)) AS integer)`

/** Whether the facts of an order in a JSON column are of one line, of this SKU. */
export const onlyItemIs = (db: Knex, column: string, sku: string): Knex.Raw =>
  db.raw(`jsonb_array_length(CAST(?? AS jsonb) -> 'items') = 1 AND CAST(?? AS jsonb) -> 'items' -> 0 ->> 'sku' = ?`, [
    column,
    column,
    sku,
  ])

/** The SKU of orders of one piece, from their facts; null for others. `orders` is the table that is asked. */
export const skuOfOnlyPiece = (db: Knex, orders: string): Knex.Raw =>
  db.raw(
    `CASE WHEN ??.quantity = 1 THEN (SELECT CAST(order_facts.facts AS jsonb) -> 'items' -> 0 ->> 'sku' FROM order_facts WHERE order_facts.order_id = ??.id) END`,
    [orders, orders],
  )

/** Which database, and of what version. */
export async function engineVersion(db: Knex): Promise<string> {
  const { rows } = (await db.raw('SHOW server_version')) as Answer<{ server_version: string }>
  return `PostgreSQL ${rows[0]?.server_version ?? ''}`
}

/** What the clock of the database says, which all machines go by: in the middle of asking for it. */
export async function databaseClock(db: Knex): Promise<number | null> {
  const from = performance.now()
  const { rows } = (await db.raw('SELECT EXTRACT(EPOCH FROM clock_timestamp()) * 1000 AS ms')) as Answer<{ ms: number }>
  return rows[0]!.ms + (performance.now() - from) / 2
}

/** Takes rows; those that another worker is just taking are passed over. The query runs once: it is an array. */
export const takeRows = <Row>(
  db: Knex,
  table: string,
  ids: Knex.QueryBuilder,
  change: Readonly<Record<string, unknown>>,
): Promise<Row[]> =>
  db(table)
    .whereRaw('id = ANY(ARRAY?)', [ids.clone().forUpdate(table).skipLocked() as unknown as Knex.RawBinding])
    .update(change)
    .returning('*') as unknown as Promise<Row[]>

/** Lets the database tell workers of new work. */
export const wakeWorkers = makeWorkTriggers

/** Listens for new work; one of all that listen is elected. */
export function hearWork(db: Knex, wake: (table: string) => void): WorkBell {
  const { config } = db.client as { config: { connection: { connectionString: string } } }
  return ringWork(config.connection.connectionString, wake)
}

/** All tables with what they hold. */
export async function tableShapes(db: Knex): Promise<TableShape[]> {
  const { rows: columns } = (await db.raw(
    `SELECT table_name AS name, column_name AS column, data_type AS type FROM information_schema.columns
     WHERE table_schema = current_schema() ORDER BY table_name, ordinal_position`,
  )) as Answer<{ name: string; column: string; type: string }>
  const { rows: keys } = (await db.raw(
    `SELECT c.conrelid::regclass::text AS name, c.contype AS kind, a.attname AS column, c.confrelid::regclass::text AS other
     FROM pg_constraint c CROSS JOIN LATERAL unnest(c.conkey) WITH ORDINALITY AS k(num, place)
     JOIN pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = k.num
     WHERE c.contype IN ('p', 'f') AND c.connamespace = current_schema()::regnamespace ORDER BY c.conrelid, k.place`,
  )) as Answer<{ name: string; kind: 'p' | 'f'; column: string; other: string }>
  return [...new Set(columns.map(({ name }) => name))].map((name) => {
    const own = keys.filter((one) => one.name === name)
    const key = own.filter(({ kind }) => kind === 'p').map(({ column }) => column)
    return {
      name,
      columns: columns
        .filter((one) => one.name === name)
        .map(({ column, type }) => ({ name: column, whole: /int/.test(type) })),
      ...(key.length > 0
        ? { key }
        : { key: ['ctid'], hidden: { select: 'CAST(ctid AS text) AS ctid', value: 'CAST(? AS tid)' } }),
      refers: [...new Set(own.filter(({ kind }) => kind === 'f').map(({ other }) => other))],
    }
  })
}

/** Takes everything out of tables; no trigger of rows hears of it. */
export async function emptyTables(trx: Knex, names: readonly string[]): Promise<void> {
  await trx.raw(`TRUNCATE ${names.join(', ')} CASCADE`)
}

/** Numbers that are given out go on behind those that are there. */
export async function goOnCounting(db: Knex, { name, key: [column = ''] }: TableShape): Promise<void> {
  const { rows } = (await db.raw('SELECT pg_get_serial_sequence(?, ?) AS name', [name, column])) as Answer<{
    name: string | null
  }>
  if (rows[0]?.name)
    await db.raw(`SELECT setval(?, GREATEST(1, (SELECT MAX(??) FROM ??)), (SELECT COUNT(*) > 0 FROM ??))`, [
      ...[rows[0].name, column, name, name],
    ])
}
