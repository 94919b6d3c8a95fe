import type { Knex } from 'knex'

/**
 * Papers that are handed over to partners, how far their answers are read; labels that carriers draw themselves;
 * shipments that left under numbers of somebody else.
 */
export async function partners(db: Knex): Promise<void> {
  await db.schema.createTable('handovers', (t) => {
    t.increments('id')
    t.text('kind').notNullable()
    t.text('key').notNullable().unique()
    t.text('reference').notNullable()
    t.text('token').notNullable()
    t.text('partner').notNullable()
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('state').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.text('receipt').notNullable().defaultTo('')
    t.text('answer').notNullable().defaultTo('')
    t.text('answered_at')
    t.text('answer_text').notNullable().defaultTo('')
    t.index(['state', 'next_at'])
    t.index(['order_id'])
    t.index(['label_id'])
    t.index(['reference'])
    t.index(['token'])
  })
  await db.schema.createTable('partner_cursors', (t) => {
    t.text('partner').primary()
    t.text('cursor').notNullable()
  })
  await db.schema.createTable('label_papers', (t) => {
    t.integer('label_id').notNullable().references('labels.id')
    t.integer('position').notNullable()
    t.text('what').notNullable()
    t.text('format').notNullable()
    t.binary('content').notNullable()
    t.primary(['label_id', 'position', 'what'])
  })
  await db.schema.alterTable('labels', (t) => {
    t.boolean('own').notNullable().defaultTo(false)
    t.text('replacement')
  })
}
