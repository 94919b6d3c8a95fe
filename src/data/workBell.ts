import type { Knex } from 'knex'
import pg from 'pg'
import type { WorkBell } from './sqliteOnly'
import { openStates } from './workTables'

/*
 * New work is told by PostgreSQL: triggers notify, and each worker listens on a connection of its own. On the same
 * connection one of them holds a lock: that one keeps the schedule, until its connection ends.
 */

const channel = 'gharry_work'
/** Any number, as long as it is always the same one, and no other lock's. */
const scheduleLock = 6_147_502
/** A connection that has gone is made anew. */
const againMs = 1000
/** Whoever holds the lock and sleeps longer than this loses it: the database ends its connection. */
const silentMs = 30_000

/** Work that workers are told of; of an import that runs its worker knows. */
const toldOf: Readonly<Record<string, readonly string[]>> = {
  ...openStates,
  imports: ['queued'],
  messages: ['waiting'],
}

/** Makes the triggers: what begins to wait, and what waits no longer for another try, is told by the name of its table. */
export async function makeWorkTriggers(db: Knex): Promise<void> {
  await db.raw(
    `CREATE FUNCTION work_waits() RETURNS trigger LANGUAGE plpgsql AS
     $trigger$ BEGIN PERFORM pg_notify('${channel}', TG_TABLE_NAME); RETURN NULL; END $trigger$`,
  )
  for (const [table, states] of Object.entries(toldOf)) {
    const isOpen = `NEW.state IN (${states.map((state) => `'${state}'`).join(', ')})`
    await db.raw(
      `CREATE TRIGGER ${table}_wait AFTER INSERT ON ${table} FOR EACH ROW WHEN (${isOpen}) EXECUTE FUNCTION work_waits()`,
    )
    await db.raw(
      `CREATE TRIGGER ${table}_wait_again AFTER UPDATE OF state ON ${table} FOR EACH ROW
       WHEN (${isOpen} AND OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION work_waits()`,
    )
  }
}

/** Listens for new work on a connection of its own, made anew whenever it ends. */
export function ringWork(address: string, wake: (table: string) => void): WorkBell {
  let client: pg.Client | null = null
  let holds = false
  let ended = false
  let again: NodeJS.Timeout | undefined
  const lost = (which: pg.Client): void => {
    if (client === which) [client, holds] = [null, false]
    if (ended || again) return
    again = setTimeout(() => {
      again = undefined
      void connect()
    }, againMs)
  }
  async function connect(): Promise<void> {
    const fresh = new pg.Client({ connectionString: address, keepAlive: true, application_name: 'gharry bell' })
    // Without a listener the error of a connection that ends would end the process.
    fresh.on('error', () => lost(fresh))
    fresh.on('end', () => lost(fresh))
    fresh.on('notification', ({ payload }) => wake(payload ?? ''))
    try {
      await fresh.connect()
      await fresh.query(`SET idle_session_timeout = ${silentMs}`)
      await fresh.query(`LISTEN ${channel}`)
      if (ended) return await fresh.end()
      client = fresh
      // What came while nobody listened.
      for (const table of Object.keys(toldOf)) wake(table)
    } catch {
      await fresh.end().catch(() => undefined)
      lost(fresh)
    }
  }
  void connect()
  // Whoever is awake says so, before the database takes it for asleep.
  const awake = setInterval(() => void client?.query('SELECT 1').catch(() => undefined), silentMs / 3)
  awake.unref()
  return {
    rings: () => client !== null,
    elected: async () => {
      const own = client
      if (!own || holds) return holds
      const { rows } = await own.query<{ got: boolean }>(`SELECT pg_try_advisory_lock(${scheduleLock}) AS got`)
      holds = client === own && rows[0]?.got === true
      return holds
    },
    close: async () => {
      ended = true
      clearInterval(awake)
      clearTimeout(again)
      await client?.end().catch(() => undefined)
    },
  }
}
