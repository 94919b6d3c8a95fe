import type { Knex } from 'knex'

/** What is to be compared with the carriers after the books were put back to an earlier moment. */
export async function restores(db: Knex): Promise<void> {
  await db.schema.createTable('restores', (t) => {
    t.increments('id')
    t.text('restored_at').notNullable().unique()
    // How far the comparison is, as JSON.
    t.text('state').notNullable()
  })
}
