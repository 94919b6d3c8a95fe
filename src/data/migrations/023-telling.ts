import type { Knex } from 'knex'

/**
 * Telling customers in full: notices of every step by mail and text message, who is not to be written to, what
 * customers answer, and documents that people edit as a draft and publish.
 */
export async function telling(db: Knex): Promise<void> {
  await db.schema.createTable('documents', (t) => {
    t.text('name').primary()
    t.integer('version').notNullable()
    t.text('draft').notNullable()
    t.text('published')
    t.text('changed_at').notNullable()
  })
  await db.schema.createTable('logos', (t) => {
    t.text('id').primary()
    t.text('type').notNullable()
    t.binary('content').notNullable()
    t.text('made_at').notNullable()
  })
  await db.schema.alterTable('notices', (t) => {
    t.text('step').notNullable().defaultTo('label made')
    t.text('medium').notNullable().defaultTo('mail')
    // Which parcel of the shipment it is about; 0 is all of them.
    t.integer('position').notNullable().defaultTo(0)
    t.text('day').notNullable().defaultTo('')
    t.text('place').notNullable().defaultTo('')
    t.text('receipt')
    t.text('received')
    t.index(['order_id', 'sent_at'])
    t.index(['receipt'])
    t.index(['recipient'])
  })
  await db.schema.createTable('silenced', (t) => {
    t.text('address').notNullable()
    t.text('why').notNullable()
    t.text('said').notNullable().defaultTo('')
    t.text('at').notNullable()
    t.primary(['address'])
  })
  await db.schema.createTable('customer_words', (t) => {
    t.increments('id')
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('label_id').notNullable()
    // 'note' wants nothing but to be read; a 'report' is a case until a person closes it.
    t.text('kind').notNullable()
    t.text('about').notNullable()
    t.text('text').notNullable()
    t.text('day').notNullable().defaultTo('')
    t.text('at').notNullable()
    t.text('closed_at')
    t.text('answer').notNullable().defaultTo('')
    t.index(['order_id'])
    t.index(['closed_at', 'id'])
  })
  await db.schema.alterTable('tracking_events', (t) => void t.integer('position').notNullable().defaultTo(0))
  await db.schema.alterTable('board', (t) => {
    t.text('foreseen')
    t.text('told_day')
    t.integer('words').notNullable().defaultTo(0)
    t.index(['words'])
  })
  await db.schema.alterTable('orders', (t) => {
    t.boolean('text_message').notNullable().defaultTo(true)
    t.text('told_steps').notNullable().defaultTo('')
    t.text('report')
    t.index(['report'])
  })
  await db.schema.alterTable('labels', (t) => void t.text('told_day'))
}
