import type { Knex } from 'knex'

/** Letters that people write to buyers, what came back to them, and words that are kept for the next time. */
export async function letters(db: Knex): Promise<void> {
  await db.schema.createTable('letters', (t) => {
    t.increments('id')
    t.integer('order_id').notNullable().references('orders.id')
    t.text('key').notNullable().unique()
    // Who has it may answer: it stands in the link, and in part in the address for a mail back.
    t.text('token').notNullable().unique()
    t.text('recipient').notNullable()
    t.text('language').notNullable()
    t.text('about').notNullable()
    t.text('subject').notNullable()
    t.text('body').notNullable()
    t.text('paragraphs').notNullable()
    // The hand pin that keeps the order until it is answered; null where it goes on.
    t.text('hold')
    t.text('author').notNullable()
    t.text('state').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.text('answered_at')
    t.index(['order_id'])
    t.index(['state', 'next_at'])
  })
  await db.schema.createTable('letter_texts', (t) => {
    t.increments('id')
    t.text('name').notNullable().unique()
    t.text('subject').notNullable()
    t.text('body').notNullable()
    t.text('author').notNullable()
    t.text('made_at').notNullable()
  })
  await db.schema.alterTable('customer_words', (t) => void t.integer('letter_id'))
}
