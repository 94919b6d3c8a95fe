import type { Knex } from 'knex'

/** How long what says whose an order was is kept, and what was taken out of the books. */
export async function life(db: Knex): Promise<void> {
  await db.schema.alterTable('orders', (t) => {
    t.text('forgotten_at')
    // Only what is not taken out yet is looked through each day.
    t.index(['state', 'placed_at'], 'orders_not_forgotten', { predicate: db.whereNull('forgotten_at') })
  })
  await db.schema.createTable('data_life', (t) => {
    // `all`, `channel shop`, `country DE`.
    t.text('scope').primary()
    t.integer('days').notNullable()
  })
  await db.schema.createTable('forgettings', (t) => {
    t.increments('id')
    t.text('at').notNullable()
    t.text('author').notNullable()
    // By its days, or because a buyer asked.
    t.text('why').notNullable()
    t.integer('orders').notNullable()
    // JSON: how many of each kind.
    t.text('taken_out').notNullable()
    // What the buyer was looked for by, as HMAC: it shows that it was they, and does not say who.
    t.text('proof')
  })
}
