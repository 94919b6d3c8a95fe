import { chmodSync, existsSync, mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import knex, { type Knex } from 'knex'
import { BooksProblem } from './booksProblem'
import { migrations } from './migrations'
import { PostgresBooks, valueTypes } from './postgresClient'
import { checkServer, whyNotOpened } from './postgresServer'
import { columnNames, SqliteClient } from './sqliteClient'
import { preparePragmas } from './sqliteOnly'

export type Database = Knex

const common = {
  // What is in the books does not get into error texts, and so not into logs.
  compileSqlOnError: false,
  useNullAsDefault: true,
  ...columnNames,
  migrations: {
    migrationSource: {
      getMigrations: () => Promise.resolve(migrations),
      getMigrationName: (migration: (typeof migrations)[number]) => migration.name,
      getMigration: (migration: (typeof migrations)[number]) =>
        Promise.resolve({ up: migration.up, down: () => Promise.reject(new Error('Migrations only go forward.')) }),
    },
  },
}

/** Whether the books are to be in PostgreSQL: `postgres://…`; otherwise it is the path of a file. */
export const isPostgresAddress = (books: string): boolean => /^postgres(?:ql)?:\/\//.test(books)

/** Opens the books, a file (made when missing) or the address of a PostgreSQL database, and brings them to the newest migration. */
export async function openDatabase(books: string): Promise<Database> {
  const inPostgres = isPostgresAddress(books)
  const db = inPostgres ? postgres(books) : sqlite(books)
  try {
    if (inPostgres) await checkServer(db)
    await migrateOnce(db)
  } catch (error) {
    await db.destroy()
    throw inPostgres ? whyNotOpened(error) : error
  }
  if (!inPostgres) keepToOneself(books)
  return db
}

function sqlite(file: string): Database {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 })
  return knex({
    ...common,
    client: SqliteClient as unknown as typeof Knex.Client,
    // There is one connection; work waits for it as long as it takes.
    acquireConnectionTimeout: 300_000,
    connection: { filename: file },
    pool: { min: 1, max: 1, afterCreate: preparePragmas },
  })
}

const quiet = (): void => undefined

const postgres = (address: string): Database =>
  knex({
    ...common,
    client: PostgresBooks as unknown as typeof Knex.Client,
    // What goes wrong is thrown, and said in the log of whoever asked.
    log: { warn: quiet, error: quiet, deprecate: quiet, debug: quiet },
    // Who waits longer is told that the database is away, and comes again.
    acquireConnectionTimeout: 15_000,
    connection: {
      ...{ connectionString: address, types: valueTypes, application_name: 'gharry' },
      ...{ connectionTimeoutMillis: 5000, keepAlive: true },
    } as Knex.PgConnectionConfig,
    pool: { min: 0, max: 10 },
  })

/** Addresses and names are in it: it is for whoever runs Gharry alone. (The build does not look for the file.) */
function keepToOneself(file: string): void {
  for (const path of [file, `${file}-wal`, `${file}-shm`])
    if (existsSync(/*turbopackIgnore: true*/ path)) chmodSync(path, 0o600)
}

/** Two processes may start at once; the one that finds the lock taken waits for the other. */
async function migrateOnce(db: Database): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    try {
      await db.migrate.latest()
      return
    } catch (error) {
      if (/migration directory is corrupt/.test(String(error)))
        throw new BooksProblem('The books are of a newer version of Gharry: start that one.')
      if (attempt >= 20 || !/lock/i.test(String(error))) throw error
      await new Promise((resolve) => setTimeout(resolve, 250))
      // A process killed during its migration leaves the lock behind.
      if (attempt === 16) await db.migrate.forceFreeMigrationsLock()
    }
  }
}

/** Splits a list, as SQL takes a bounded number of values at once. */
export function chunks<T>(list: readonly T[], size: number): T[][] {
  const out: T[][] = []
  for (let i = 0; i < list.length; i += size) out.push(list.slice(i, i + size))
  return out
}

/** A value as it is kept in a column. */
export const toJson = (value: unknown): string => JSON.stringify(value)
/** A value as it was kept; the caller says of what type it is. */
export const fromJson = <T>(text: string): T => JSON.parse(text) as T
