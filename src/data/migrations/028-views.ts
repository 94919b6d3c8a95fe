import type { Knex } from 'knex'

/** Views of the Desk that people keep: filters, sorts and columns under a name. */
export async function views(db: Knex): Promise<void> {
  await db.schema.createTable('desk_views', (t) => {
    t.increments('id')
    t.text('owner').notNullable()
    t.text('name').notNullable()
    t.boolean('shared').notNullable()
    t.text('query').notNullable()
    t.text('columns').notNullable()
    t.text('made_at').notNullable()
    t.unique(['owner', 'name'])
  })
}
