import type { Knex } from 'knex'
import { combineKey, type Order } from '@/core/order'

/** Orders that go as one shipment, and what tells which could. */
export async function combined(db: Knex): Promise<void> {
  await db.schema.alterTable('orders', (t) => {
    /** Buyer and place; empty when not known well enough. */
    t.text('combine_key').notNullable().defaultTo('')
    /** A rule wants it together with others. */
    t.boolean('combine').notNullable().defaultTo(false)
    t.index(['combine_key'])
  })
  await db.schema.createTable('combined_orders', (t) => {
    t.integer('member_id').primary().references('orders.id')
    t.integer('shipment_id').notNullable().references('orders.id')
    t.text('author').notNullable()
    t.text('made_at').notNullable()
    t.index(['shipment_id'])
  })
  // Only orders that wait can still be combined.
  const waiting = (await db('orders')
    .join('order_facts', 'order_facts.order_id', 'orders.id')
    .whereIn('orders.state', ['attention', 'held', 'ready'])
    .select('orders.id', 'order_facts.facts')) as { id: number; facts: string }[]
  for (const { id, facts } of waiting)
    await db('orders')
      .where({ id })
      .update({ combine_key: combineKey(JSON.parse(facts) as Order) })
}
