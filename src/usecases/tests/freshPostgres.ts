import { randomBytes } from 'node:crypto'
import pg from 'pg'
import { openDatabase } from '@/data'

/** A database of its own in the cluster that `npm run test:postgres` has started. */
export interface FreshPostgres {
  readonly address: string
  readonly drop: () => Promise<void>
}

/** The cluster, without the name of a database; tests run on SQLite without it. */
const cluster = process.env.GHARRY_TEST_POSTGRES ?? ''
let template: string | null = null

/** A database in the newest form, made from one that was migrated once; null where the tests run on SQLite. */
export async function freshPostgres(): Promise<FreshPostgres | null> {
  if (cluster === '') return null
  if (template === null) {
    const name = `template_${randomBytes(6).toString('hex')}`
    await admin(`CREATE DATABASE ${name}`)
    await (await openDatabase(`${cluster}/${name}`)).destroy()
    template = name
  }
  const name = `test_${randomBytes(6).toString('hex')}`
  await admin(`CREATE DATABASE ${name} TEMPLATE ${template} STRATEGY FILE_COPY`)
  return { address: `${cluster}/${name}`, drop: () => admin(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`) }
}

async function admin(sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: `${cluster}/postgres` })
  await client.connect()
  try {
    await client.query(sql)
  } finally {
    await client.end()
  }
}
