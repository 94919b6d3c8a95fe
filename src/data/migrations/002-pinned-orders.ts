import type { Knex } from 'knex'

/**
 * Example orders with the outcome they must have; the facts are kept apart from the order, as the example must not
 * change.
 */
export async function pinnedOrders(db: Knex): Promise<void> {
  await db.schema.createTable('pinned_orders', (t) => {
    t.increments('id')
    t.text('name').notNullable()
    t.text('facts').notNullable()
    t.integer('now').notNullable()
    t.text('expected').notNullable()
    t.text('note').notNullable().defaultTo('')
    t.text('author').notNullable()
    t.text('made_at').notNullable()
  })
}
