import type { Knex } from 'knex'

/** Papers that are on their way to the printer of a bench. */
export async function printing(db: Knex): Promise<void> {
  await db.schema.createTable('print_jobs', (t) => {
    t.increments('id')
    t.text('key').notNullable().unique()
    t.text('bench').notNullable()
    t.integer('label_id').notNullable().references('labels.id')
    t.text('state').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.index(['state', 'next_at'])
    t.index(['bench', 'id'])
  })
}
