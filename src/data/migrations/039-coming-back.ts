import type { Knex } from 'knex'

/** What buyers send back: asked for, labelled, followed, looked at when it arrives, and paid back. */
export async function comingBack(db: Knex): Promise<void> {
  await db.schema.createTable('returns', (t) => {
    t.increments('id')
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('state').notNullable()
    t.text('reason').notNullable()
    t.text('words').notNullable().defaultTo('')
    // Which items, and how many of each.
    t.text('pieces').notNullable()
    t.text('asked_at').notNullable()
    t.text('asked_by').notNullable()
    // Why it was answered as it was.
    t.text('why').notNullable().defaultTo('')
    t.boolean('paid_by_buyer').notNullable().defaultTo(false)
    t.text('location').notNullable()
    // The label with which it comes; empty where there is none.
    t.text('carrier').notNullable().defaultTo('')
    t.text('service').notNullable().defaultTo('')
    t.text('account')
    t.text('request')
    t.text('tracking_number')
    t.text('symbology').notNullable().defaultTo('code128')
    t.text('routing').notNullable().defaultTo('')
    t.text('code').notNullable().defaultTo('')
    t.text('valid_until')
    // What using it costs, and when it was used.
    t.integer('charge').notNullable().defaultTo(0)
    t.text('used_at')
    t.text('status')
    t.text('status_at')
    t.text('news').notNullable().defaultTo('[]')
    // What was found when it came.
    t.text('found')
    t.text('checked_at')
    t.text('checked_by').notNullable().defaultTo('')
    t.text('note').notNullable().defaultTo('')
    // What the buyer gets back, in minor units of the currency of the order; of it for shipping.
    t.integer('amount').notNullable().defaultTo(0)
    t.integer('for_shipping').notNullable().defaultTo(0)
    // Told to the channel by a post, or paid by a person.
    t.text('paid_by_hand_at')
    t.text('key').notNullable().unique()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.index(['state', 'asked_at'])
    t.index(['order_id'])
    t.index(['label_id'])
    t.index(['carrier', 'tracking_number'])
    t.index(['tracking_number'])
  })
  await db.schema.createTable('return_files', (t) => {
    t.increments('id')
    t.integer('return_id').notNullable().references('returns.id')
    // A photograph, or the label as the carrier drew it.
    t.text('what').notNullable()
    t.text('type').notNullable()
    t.binary('content').notNullable()
    t.index(['return_id', 'what'])
  })
  await db.schema.alterTable('posts', (t) => {
    t.integer('amount')
  })
  for (const table of ['posts', 'notices'])
    await db.schema.alterTable(table, (t) => {
      t.integer('return_id').references('returns.id')
    })
}
