import { chmodSync, existsSync, mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import knex, { type Knex } from 'knex'
import { migrations } from './migrations'
import { columnNames, SqliteClient } from './sqliteClient'
import { preparePragmas } from './sqliteOnly'

export type Database = Knex

/** Opens the database file (made when missing) and brings it to the newest migration. */
export async function openDatabase(file: string): Promise<Database> {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 })
  const db = knex({
    client: SqliteClient as unknown as typeof Knex.Client,
    // What is in the books does not get into error texts, and so not into logs.
    compileSqlOnError: false,
    // There is one connection; work waits for it as long as it takes.
    acquireConnectionTimeout: 300_000,
    connection: { filename: file },
    useNullAsDefault: true,
    ...columnNames,
    pool: { min: 1, max: 1, afterCreate: preparePragmas },
    migrations: {
      migrationSource: {
        getMigrations: () => Promise.resolve(migrations),
        getMigrationName: (migration: (typeof migrations)[number]) => migration.name,
        getMigration: (migration: (typeof migrations)[number]) =>
          Promise.resolve({ up: migration.up, down: () => Promise.reject(new Error('Migrations only go forward.')) }),
      },
    },
  })
  try {
    await migrateOnce(db)
  } catch (error) {
    await db.destroy()
    throw error
  }
  // Addresses and names are in it: it is for whoever runs Gharry alone.
  for (const path of [file, `${file}-wal`, `${file}-shm`]) if (existsSync(path)) chmodSync(path, 0o600)
  return db
}

/** Two processes may start at once; the one that finds the lock taken waits for the other. */
async function migrateOnce(db: Database): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    try {
      await db.migrate.latest()
      return
    } catch (error) {
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
