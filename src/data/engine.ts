/*
 * Which database stands behind the repositories. What only one of them knows is in two files with the same functions;
 * everything else is written so that both understand it.
 */
import type { Knex } from 'knex'
import { countAll } from './countAll'
import * as postgres from './postgresOnly'
import * as sqlite from './sqliteOnly'

/** Whether the books are in PostgreSQL. */
export const isPostgres = (db: { readonly client: unknown }): boolean =>
  (db.client as { dialect?: string }).dialect === 'postgresql'

const of = (db: { readonly client: unknown }): typeof sqlite | typeof postgres => (isPostgres(db) ? postgres : sqlite)
const ofQuery = (query: Knex.QueryBuilder): typeof sqlite | typeof postgres =>
  of(query as unknown as { readonly client: unknown })

/** Inserts many rows of the same columns, fast; gives their ids. Within a transaction. */
export const insertMany: typeof sqlite.insertMany = (trx, ...given) => of(trx).insertMany(trx, ...given)
/** Writes columns of many rows, each found by its key, fast. Within a transaction. */
export const updateMany: typeof sqlite.updateMany = (trx, ...given) => of(trx).updateMany(trx, ...given)
/** A text of JSON without one of its parts. */
export const jsonWithout: typeof sqlite.jsonWithout = (db, ...given) => of(db).jsonWithout(db, ...given)
/** Makes the table that orders are searched in. */
export const createSearchTable: typeof sqlite.createSearchTable = (db) => of(db).createSearchTable(db)
/** Replaces the searchable text of orders; `fresh` ones have none yet. Within a transaction. */
export const writeSearch: typeof sqlite.writeSearch = (trx, ...given) => of(trx).writeSearch(trx, ...given)
/** Restricts a query over `orders` to those whose searchable text holds every word; of them to the youngest so many. */
export const whereFound: typeof sqlite.whereFound = (query, ...given) => ofQuery(query).whereFound(query, ...given)
/** Takes orders out of the search; within a transaction. */
export const forgetSearch: typeof sqlite.forgetSearch = (trx, ids) => of(trx).forgetSearch(trx, ids)
/** Keeps `order_counts` and `order_tag_counts` by triggers; counts what is there. */
export const keepOrderCounts: typeof sqlite.keepOrderCounts = (db) => of(db).keepOrderCounts(db)
/** Keeps what is in stock by triggers, as its moves are written and labels change. */
export const keepStock: typeof sqlite.keepStock = (db) => of(db).keepStock(db)
/** Keeps the audit as it was written: what is in it is never changed and never taken out. */
export const keepAudit: typeof sqlite.keepAudit = (db) => of(db).keepAudit(db)
/** Notes by triggers which orders of a day change whose past orders are kept as columns; see `pastOrders.ts`. */
export const keepPastChanges: typeof sqlite.keepPastChanges = (db) => of(db).keepPastChanges(db)
/** Divides the tables that grow with every order that ever was, where the database can. */
export const divideGrown: typeof sqlite.divideGrown = (db) => of(db).divideGrown(db)
/** Makes the indexes of tables anew in the sequence that lists ask for, where the database has another of its own. */
export const indexAsSorted: typeof sqlite.indexAsSorted = (db, tables) => of(db).indexAsSorted(db, tables)
/** Makes the parts of those tables that the next orders go into; gives how many could not be made. */
export const keepParts: typeof sqlite.keepParts = (db) => of(db).keepParts(db)
/** Restricts a query to rows whose value begins with a text, whatever its case. */
export const whereBegins: typeof sqlite.whereBegins = (query, ...given) => ofQuery(query).whereBegins(query, ...given)
/** A column that no index is to be used for: the reader knows better which one serves. */
export const unindexed: typeof sqlite.unindexed = (db, column) => of(db).unindexed(db, column)
/** Lets the query planner know how the values lie; after many rows changed. */
export const analyse: typeof sqlite.analyse = (db) => of(db).analyse(db)
/** Whether the facts of an order in a JSON column are of one line, of this SKU. */
export const onlyItemIs: typeof sqlite.onlyItemIs = (db, ...given) => of(db).onlyItemIs(db, ...given)
/** The SKU of orders of one piece, from their facts; null for others. `orders` is the table that is asked. */
export const skuOfOnlyPiece: typeof sqlite.skuOfOnlyPiece = (db, orders) => of(db).skuOfOnlyPiece(db, orders)
/** Takes away what keeps the audit: for tests of what is found then. */
export const unkeepAudit: typeof sqlite.unkeepAudit = (db) => of(db).unkeepAudit(db)
/** The names of all tables. */
export const tableNames: typeof sqlite.tableNames = (db) => of(db).tableNames(db)
/** How many bytes the database takes; null where it is a file, which says so itself. */
export const databaseBytes: typeof sqlite.databaseBytes = (db) => of(db).databaseBytes(db)
/** Which database, and of what version. */
export const engineVersion: typeof sqlite.engineVersion = (db) => of(db).engineVersion(db)
/** What the clock of the database says, in milliseconds since 1970; null where it is this machine's. */
export const databaseClock: typeof sqlite.databaseClock = (db) => of(db).databaseClock(db)
/** Takes the rows that a query names by writing to them, and gives them as they are then; rows that another one is just taking are passed over. */
export const takeRows: typeof sqlite.takeRows = (db, ...given) => of(db).takeRows(db, ...given)
/** Lets the database tell workers of new work (`hearWork`), where it can. */
export const wakeWorkers: typeof sqlite.wakeWorkers = (db) => of(db).wakeWorkers(db)
/** Listens for new work, and stands for the election of the one worker that keeps the schedule. */
export const hearWork: typeof sqlite.hearWork = (db, wake) => of(db).hearWork(db, wake)
/** All tables with what they hold, as they are copied to another database. */
export const tableShapes: typeof sqlite.tableShapes = (db) => of(db).tableShapes(db)
/** Takes everything out of tables; those that refer to others come behind them. Within a transaction. */
export const emptyTables: typeof sqlite.emptyTables = (trx, names) => of(trx).emptyTables(trx, names)
/** Numbers that are given out go on behind those that are there. */
export const goOnCounting: typeof sqlite.goOnCounting = (db, shape) => of(db).goOnCounting(db, shape)
export type { TableShape } from './sqliteOnly'
/** SQL: how many days a day (or moment) is after another. */
export const daysAfter = (db: Knex, ...given: Parameters<typeof sqlite.daysAfter>): string => of(db).daysAfter(...given)
/** SQL: the weekday of a day; 0 is Sunday. */
export const weekdayOfDay = (db: Knex, ...given: Parameters<typeof sqlite.weekdayOfDay>): string =>
  of(db).weekdayOfDay(...given)

/** How many orders hold every word, counted up to `most`. */
export async function countFound(db: Knex, words: readonly string[], most: number): Promise<number> {
  const found = db('orders').select(db.raw('1')).limit(most)
  whereFound(found, words, most)
  return countAll(db.from(found.as('found')))
}

/** An active label per order, enforced by the database itself. */
export async function createActiveLabelIndex(db: Knex): Promise<void> {
  await db.raw(
    `CREATE UNIQUE INDEX labels_one_active ON labels(order_id) WHERE state IN ('queued', 'bought', 'voiding')`,
  )
}

/** Brings what books of before hold into a new form; PostgreSQL's books begin with the newest one. */
export async function changeOldBooks(db: Knex, sql: string): Promise<void> {
  if (!isPostgres(db)) await db.raw(sql)
}

/** Of labels whose parcels stand here still, word for word as the index of them has it (migration 033). */
export const standing = `dispatched_at IS NULL AND COALESCE(status, 'announced') = 'announced'`
