import type { Knex } from 'knex'
import { keepPastChanges } from '../engine'

/** Past orders as columns by day, for trials; and which orders of such a day changed since. See `pastOrders.ts`. */
export async function past(db: Knex): Promise<void> {
  await db.schema.createTable('past_days', (t) => {
    t.text('day').primary()
    // The form of its columns (`pastForm`); 0 until they are made for the first time.
    t.integer('form').notNullable()
    t.text('made_at').notNullable()
    t.integer('orders').notNullable()
    // Who makes it now, or made it last.
    t.text('maker').notNullable()
  })
  await db.schema.createTable('past_parts', (t) => {
    t.text('day').notNullable()
    t.integer('part').notNullable()
    // The maker of its day: a reader knows that it has parts of one making.
    t.text('maker').notNullable()
    // JSON: how many orders of each channel.
    t.text('counts').notNullable()
    // The place of its last order.
    t.text('placed_at').notNullable()
    t.integer('order_id').notNullable()
    t.binary('content').notNullable()
    t.primary(['day', 'part'])
  })
  await db.schema.createTable('past_changes', (t) => {
    t.text('day').notNullable()
    t.integer('order_id').notNullable()
    // How often it changed, and how often it had when its day was made last.
    t.integer('times').notNullable()
    t.integer('seen').notNullable()
    t.primary(['day', 'order_id'])
  })
  await keepPastChanges(db)
}
