import type { Knex } from 'knex'

/** How often an account may be asked, and labels by carrier: each has a lane of its own. */
export async function pace(db: Knex): Promise<void> {
  await db.schema.alterTable('connections', (t) => void t.integer('per_second'))
  await db.schema.alterTable('labels', (t) => void t.index(['state', 'carrier', 'next_at']))
}
