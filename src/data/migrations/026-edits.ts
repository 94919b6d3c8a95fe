import type { Knex } from 'knex'

/** What people decided for many orders at once, with what it replaced. */
export async function edits(db: Knex): Promise<void> {
  await db.schema.createTable('edits', (t) => {
    t.increments('id')
    t.text('key').notNullable().unique()
    t.text('state').notNullable()
    t.text('author').notNullable()
    t.text('made_at').notNullable()
    t.text('edits').notNullable()
    t.text('sentence').notNullable()
  })
  await db.schema.createTable('edit_orders', (t) => {
    t.integer('edit_id').notNullable().references('id').inTable('edits')
    t.integer('order_id').notNullable().references('id').inTable('orders')
    t.text('state').notNullable()
    t.text('before')
    t.text('after')
    t.text('why')
    t.primary(['edit_id', 'order_id'])
  })
  await db.raw('CREATE INDEX edit_orders_by_state ON edit_orders(edit_id, state)')
}
