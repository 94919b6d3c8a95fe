import type { Knex } from 'knex'

/**
 * Messages that channels send by themselves, until they are taken in; and when each order changed last in its channel.
 */
export async function messages(db: Knex): Promise<void> {
  await db.schema.createTable('messages', (t) => {
    t.increments('id')
    t.text('connection').notNullable().references('connections.id').onDelete('CASCADE')
    t.text('event').notNullable()
    t.text('received_at').notNullable()
    t.text('state').notNullable().defaultTo('waiting')
    t.text('body')
    t.text('next_at').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('problem')
    t.unique(['connection', 'event'])
    t.index(['state', 'next_at'])
  })
  await db.schema.alterTable('connection_hours', (t) => {
    t.integer('heard').notNullable().defaultTo(0)
    t.integer('refused').notNullable().defaultTo(0)
  })
  await db.schema.alterTable('orders', (t) => void t.text('changed_at'))
}
