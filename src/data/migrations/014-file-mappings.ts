import type { Knex } from 'knex'

/** How the columns of a sender's files were taken the last time. */
export async function fileMappings(db: Knex): Promise<void> {
  await db.schema.createTable('file_mappings', (t) => {
    t.text('id').primary()
    t.text('channel_id').notNullable()
    t.text('mapping').notNullable()
    t.text('used_at').notNullable()
  })
}
