import type { Knex } from 'knex'

/** What waits at counters for its buyers: where it lies, under which code, and who took it. */
export async function counter(db: Knex): Promise<void> {
  await db.schema.createTable('pickups', (t) => {
    t.integer('label_id').primary().references('labels.id')
    t.integer('order_id').notNullable().references('orders.id')
    t.text('location').notNullable()
    t.text('place').notNullable()
    t.text('code').notNullable()
    t.text('shelved_at').notNullable()
    t.text('author').notNullable()
    // Until when it is kept before somebody asks.
    t.text('ask_on').notNullable()
    t.text('reminded_at')
    t.text('handed_at')
    t.text('handed_to').notNullable().defaultTo('')
    t.text('signature')
    t.text('put_back_at')
    t.index(['code'])
    t.index(['location', 'handed_at', 'put_back_at'])
  })
}
