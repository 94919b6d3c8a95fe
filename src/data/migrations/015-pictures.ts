import type { Knex } from 'knex'

/** Photographs of package presets. */
export async function pictures(db: Knex): Promise<void> {
  await db.schema.createTable('pictures', (t) => {
    t.text('preset').primary()
    t.text('type').notNullable()
    t.binary('content').notNullable()
  })
}
