import type { Knex } from 'knex'

/** Who is told from outside of what happens here, and each message to them. */
export async function webhooks(db: Knex): Promise<void> {
  await db.schema.createTable('webhooks', (t) => {
    t.text('id').primary()
    t.text('name').notNullable()
    t.text('url').notNullable()
    t.text('types').notNullable()
    t.text('secret').notNullable()
    t.boolean('on').notNullable().defaultTo(true)
    t.text('made_at').notNullable()
    t.text('problem')
  })
  await db.schema.createTable('webhook_messages', (t) => {
    t.increments('id')
    t.text('webhook').notNullable().references('webhooks.id').onDelete('CASCADE')
    t.text('message').notNullable()
    t.text('type').notNullable()
    t.text('body').notNullable()
    t.text('state').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.index(['state', 'next_at'])
    t.index(['webhook', 'id'])
  })
}
