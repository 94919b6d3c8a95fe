import type { Knex } from 'knex'
import { keepStock } from '../engine'

/** What stands in stock at each location, as a table of moves that is only ever added to; totals follow by triggers. */
export async function stock(db: Knex): Promise<void> {
  await db.schema.createTable('stock_moves', (t) => {
    t.increments('id')
    t.text('at').notNullable()
    t.text('location').notNullable()
    t.text('sku').notNullable()
    t.text('kind').notNullable()
    // By how much what is there changes, and what is promised of it.
    t.integer('on_hand').notNullable().defaultTo(0)
    t.integer('reserved').notNullable().defaultTo(0)
    t.integer('label_id').references('labels.id')
    t.text('note').notNullable().defaultTo('')
    t.text('author').notNullable().defaultTo('Gharry')
    t.text('key').unique()
    t.index(['location', 'sku', 'id'])
  })
  await db.schema.createTable('stock', (t) => {
    t.text('location').notNullable()
    t.text('sku').notNullable()
    t.integer('on_hand').notNullable()
    t.integer('reserved').notNullable()
    t.integer('move_id').notNullable()
    // Waiting orders with it are to be decided again.
    t.boolean('stale').notNullable()
    t.primary(['location', 'sku'])
    t.index(['move_id'])
  })
  // What a label holds of it: promised, gone with it, or given back.
  await db.schema.createTable('stock_held', (t) => {
    t.integer('label_id').notNullable().references('labels.id')
    t.text('location').notNullable()
    t.text('sku').notNullable()
    t.integer('quantity').notNullable()
    t.text('state').notNullable()
    t.primary(['label_id', 'location', 'sku'])
    t.index(['location', 'sku', 'state'])
  })
  await db.schema.alterTable('channels', (t) => {
    // Whether it says what is in stock at a location, or is told what is there.
    t.text('stock').notNullable().defaultTo('')
    t.text('stock_location').notNullable().defaultTo('')
    t.text('stock_cursor').notNullable().defaultTo('')
    t.integer('stock_told').notNullable().defaultTo(0)
    t.text('stock_problem')
  })
  await keepStock(db)
  await db.raw('CREATE INDEX stock_stale ON stock(sku) WHERE stale = 1')
  await db.raw('CREATE INDEX stock_short ON stock(location, sku) WHERE on_hand < reserved')
}
