import type { Knex } from 'knex'

/** The channel's own locations whose orders come in. */
export async function places(db: Knex): Promise<void> {
  await db.schema.alterTable('channels', (t) => void t.text('places').notNullable().defaultTo(''))
}
