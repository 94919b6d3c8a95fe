import type { Knex } from 'knex'

/** What carriers owe for parcels that were late, lost or damaged, and what became of each claim. */
export async function claims(db: Knex): Promise<void> {
  await db.schema.createTable('claims', (t) => {
    t.increments('id')
    t.integer('label_id').notNullable().references('labels.id')
    t.integer('position').notNullable()
    t.integer('order_id').notNullable().references('orders.id')
    t.text('carrier').notNullable()
    t.text('kind').notNullable()
    t.integer('amount').notNullable()
    t.text('reason').notNullable()
    t.text('claim_by').notNullable()
    t.text('state').notNullable()
    t.text('found_at').notNullable()
    t.text('claimed_at')
    t.text('settled_at')
    t.integer('granted')
    t.text('note').notNullable().defaultTo('')
    t.unique(['label_id', 'position', 'kind'])
    t.index(['state', 'claim_by'])
    t.index(['carrier', 'state'])
    t.index(['order_id'])
  })
}
