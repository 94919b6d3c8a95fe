import type { Knex } from 'knex'

/** Access that a person grants at the other side: its tokens (sealed), who renews them now, and those under way. */
export async function authorisations(db: Knex): Promise<void> {
  await db.schema.alterTable('connections', (t) => {
    t.text('tokens')
    t.text('renewing_until')
  })
  await db.schema.createTable('authorisations', (t) => {
    t.text('id').primary()
    t.text('connection').notNullable().references('connections.id').onDelete('CASCADE')
    t.text('browser').notNullable()
    t.text('pending').notNullable()
    t.text('made_at').notNullable()
  })
}
