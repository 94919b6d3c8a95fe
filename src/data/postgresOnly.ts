/*
 * Everything that only PostgreSQL knows, under the names that `sqliteOnly.ts` has for the same: parts of JSON, the index
 * of trigrams, triggers, days.
 */
import type { Knex } from 'knex'
import { columnOf, plainValue } from './sqliteClient'
import { pastManner } from './pastManner'
import type { TableShape, WorkBell, Written } from './sqliteOnly'
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

/** Writes columns of many rows, each found by its key, hundreds in a statement. */
export async function updateMany<T>(
  trx: Knex,
  { table, key = ['id'], columns }: Written,
  list: readonly T[],
  valuesOf: (entry: T) => readonly unknown[],
): Promise<void> {
  const typed = await typesOf(trx, table)
  const [keys, names] = [key.map(columnOf), columns.map(columnOf)]
  const all = [...keys, ...names]
  const size = Math.max(1, Math.floor(mostValues / all.length))
  // The types are said once, in a first row that no key has.
  const first = `(${all.map((name) => `CAST(NULL AS ${typed.get(name) ?? 'text'})`).join(', ')})`
  for (let from = 0; from < list.length; from += size) {
    const part = list.slice(from, from + size)
    await trx.raw(
      `UPDATE ${table} SET ${names.map((name) => `"${name}" = given."${name}"`).join(', ')}
       FROM (VALUES ${first}, ${part.map(() => placeholders(all.length)).join(', ')})
         AS given (${all.map((name) => `"${name}"`).join(', ')})
       WHERE ${keys.map((name) => `${table}."${name}" = given."${name}"`).join(' AND ')}`,
      part.flatMap((entry) => valuesOf(entry).map(plainValue)) as Knex.RawBinding[],
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

/** Notes which orders of a day change whose past orders are kept as columns. */
export async function keepPastChanges(db: Knex): Promise<void> {
  const note = (order: string, day: string): string =>
    `INSERT INTO past_changes(day, order_id, times, seen) SELECT day, ${order}, 1, 0 FROM past_days WHERE day = ${day}
     ON CONFLICT (day, order_id) DO UPDATE SET times = past_changes.times + 1;`
  const dayOf = (row: 'NEW' | 'OLD'): string => `SUBSTR(${row}.placed_at, 1, 10)`
  const dayOfOrder = (row: 'NEW' | 'OLD'): string =>
    `(SELECT SUBSTR(placed_at, 1, 10) FROM orders WHERE id = ${row}.order_id)`
  await trigger(db, 'past_order_came', 'AFTER INSERT ON orders FOR EACH ROW', note('NEW.id', dayOf('NEW')))
  await trigger(
    db,
    'past_order_changed',
    `AFTER UPDATE OF state, placed_at ON orders FOR EACH ROW
     WHEN (${pastManner('OLD')} <> ${pastManner('NEW')} OR OLD.placed_at <> NEW.placed_at)`,
    `${note('NEW.id', dayOf('OLD'))} ${note('NEW.id', dayOf('NEW'))}`,
  )
  await trigger(
    db,
    'past_facts_changed',
    'AFTER UPDATE OF facts ON order_facts FOR EACH ROW',
    note('NEW.order_id', dayOfOrder('NEW')),
  )
  for (const [event, row] of [
    ['INSERT', 'NEW'],
    ['UPDATE', 'NEW'],
    ['DELETE', 'OLD'],
  ] as const)
    await trigger(
      db,
      `past_pins_${event.toLowerCase()}`,
      `AFTER ${event} ON hand_pins FOR EACH ROW`,
      note(`${row}.order_id`, dayOfOrder(row)),
    )
}

/** Tables that grow with every order that ever was, and by which number they are divided. */
const divided = [
  { table: 'order_facts', by: 'order_id', key: ['order_id'], refers: 'orders' },
  { table: 'decisions', by: 'order_id', key: ['order_id'], refers: 'orders' },
  { table: 'order_log', by: 'order_id', key: ['id', 'order_id'], refers: 'orders' },
  { table: 'tracking_events', by: 'label_id', key: ['id', 'label_id'], refers: 'labels' },
] as const
/** So many orders, or labels, are in one part of such a table. */
const inPart = 1_000_000

/**
 * Divides what grows with every order that ever was into parts of a million orders each. A part that is missing loses
 * nothing: its rows go into the part for all the rest. Numbers of rows have room for more than two thousand million.
 */
export async function divideGrown(db: Knex): Promise<void> {
  const { rows } = (await db.raw(
    `SELECT table_name AS name, column_name AS column FROM information_schema.columns
     WHERE table_schema = current_schema() AND data_type = 'integer' AND column_default LIKE 'nextval(%'`,
  )) as Answer<{ name: string; column: string }>
  for (const { name, column } of rows) {
    await db.raw(`ALTER TABLE "${name}" ALTER COLUMN "${column}" TYPE bigint`)
    await db.raw(`ALTER SEQUENCE "${name}_${column}_seq" AS bigint`)
  }
  for (const { table, by, key, refers } of divided) {
    await db.raw(`ALTER TABLE ${table} RENAME TO ${table}_whole`)
    await db.raw(`CREATE TABLE ${table} (LIKE ${table}_whole INCLUDING DEFAULTS) PARTITION BY RANGE (${by})`)
    await db.raw(`CREATE TABLE ${table}_rest PARTITION OF ${table} DEFAULT`)
    await db.raw(`INSERT INTO ${table} SELECT * FROM ${table}_whole`)
    if (key.length > 1) await db.raw(`ALTER SEQUENCE ${table}_id_seq OWNED BY ${table}.id`)
    await db.raw(`DROP TABLE ${table}_whole`)
    await db.raw(`ALTER TABLE ${table} ADD CONSTRAINT ${table}_pkey PRIMARY KEY (${key.join(', ')})`)
    await db.raw(`ALTER TABLE ${table} ADD FOREIGN KEY (${by}) REFERENCES ${refers}(id)`)
  }
  await db.raw('CREATE INDEX order_log_order_id_index ON order_log(order_id)')
  await db.raw('ALTER TABLE tracking_events ADD UNIQUE (label_id, remote_id)')
  await db.raw(
    'CREATE TRIGGER past_facts_changed AFTER UPDATE OF facts ON order_facts FOR EACH ROW EXECUTE FUNCTION past_facts_changed()',
  )
}

/**
 * Makes the parts that the next orders go into, and lets go of those that are empty for good. Gives how many parts
 * could not be made, as rows of theirs are in the part for the rest.
 */
export async function keepParts(db: Knex): Promise<number> {
  let failed = 0
  for (const { table, by, refers } of divided) {
    const { rows } = (await db.raw(
      `SELECT relname AS name FROM pg_inherits JOIN pg_class ON pg_class.oid = inhrelid WHERE inhparent = ?::regclass`,
      [table],
    )) as Answer<{ name: string }>
    const parts = new Set(rows.map(({ name }) => name))
    const [{ high }] = (await db(refers).max({ high: 'id' })) as [{ high: number | null }]
    const current = Math.floor((high ?? 0) / inPart)
    for (const part of [current, current + 1]) {
      if (parts.has(`${table}_${part}`)) continue
      try {
        await db.raw(
          `CREATE TABLE ${table}_${part} PARTITION OF ${table} FOR VALUES FROM (${part * inPart}) TO (${(part + 1) * inPart})`,
        )
      } catch (error) {
        if ((error as { code?: string }).code !== '23514') throw error
        failed++
      }
    }
    for (const name of parts) {
      const number = Number(name.slice(table.length + 1))
      if (!(number < current)) continue
      const [row] = (await db(name).select(by).limit(1)) as unknown[]
      if (!row) await db.raw(`DROP TABLE ${name}`)
    }
  }
  return failed
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

/**
 * Makes the indexes of tables anew in the sequence that lists ask for: what is missing comes first, and of equals the row
 * with the lowest number. Another one of the same columns is no help to a list, which would be sorted whole for each page.
 */
export async function indexAsSorted(db: Knex, tables: readonly string[]): Promise<void> {
  const { rows } = (await db.raw(
    `SELECT i.relname AS name, pg_get_indexdef(i.oid) AS definition, EXISTS (SELECT 1 FROM pg_attribute c WHERE c.attrelid = t.oid AND c.attname = 'id') AS numbered
     FROM pg_index x JOIN pg_class i ON i.oid = x.indexrelid JOIN pg_class t ON t.oid = x.indrelid JOIN pg_am a ON a.oid = i.relam
     WHERE t.relname = ANY(?) AND t.relnamespace = current_schema()::regnamespace AND a.amname = 'btree' AND NOT x.indisunique`,
    [[...tables]],
  )) as Answer<{ name: string; definition: string; numbered: boolean }>
  for (const { name, definition, numbered } of rows) {
    // Those of plain columns; an expression has brackets of its own.
    const [whole, before, keys, behind] = /^(.* USING btree )\(([^()]+)\)(.*)$/s.exec(definition) ?? []
    if (whole === undefined) continue
    const own = keys!.split(', ')
    const sorted = own.map((key) => {
      if (key === 'id' || / NULLS /.test(key)) return key
      return `${key} NULLS ${key.endsWith(' DESC') ? 'LAST' : 'FIRST'}`
    })
    if (numbered && !own.includes('id')) sorted.push('id')
    await db.raw(`DROP INDEX "${name}"`)
    await db.raw(`${before}(${sorted.join(', ')})${behind}`)
  }
}

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
     WHERE table_schema = current_schema() AND table_name NOT IN (SELECT relname FROM pg_class WHERE relispartition)
     ORDER BY table_name, ordinal_position`,
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
