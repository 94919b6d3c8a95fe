import type { Knex } from 'knex'

/** The books in double entry, prepaid balances with their marks, the ceiling of a day, and what carriers invoiced. */
export async function moneyBooks(db: Knex): Promise<void> {
  await db.schema.createTable('bookings', (t) => {
    t.increments('id')
    /** The same cause is booked once. */
    t.text('key').notNullable().unique()
    t.text('at').notNullable()
    t.text('day').notNullable()
    t.text('kind').notNullable()
    t.text('carrier').notNullable()
    t.text('debit').notNullable()
    t.text('credit').notNullable()
    t.integer('amount').notNullable()
    t.integer('label_id').references('labels.id')
    t.text('author').notNullable()
    t.text('note').notNullable().defaultTo('')
    t.index(['debit', 'carrier'])
    t.index(['credit', 'carrier'])
    t.index(['kind', 'day'])
    t.index(['label_id'])
  })
  await db.schema.createTable('carrier_accounts', (t) => {
    t.text('carrier').primary()
    /** Below this balance it is topped up by itself; null for by hand only. */
    t.integer('mark')
    t.integer('top_up_by')
    t.text('problem')
  })
  await db.schema.createTable('spending', (t) => {
    t.integer('id').primary()
    /** Most that is spent on a day without approval; null for no ceiling. */
    t.integer('daily_ceiling')
  })
  await db('spending').insert({ id: 1, daily_ceiling: null })
  await db.schema.createTable('carrier_invoices', (t) => {
    t.increments('id')
    t.text('carrier').notNullable()
    t.text('number').notNullable()
    t.text('taken_at').notNullable()
    t.text('author').notNullable()
    t.integer('billed').notNullable()
    t.integer('expected').notNullable()
    t.unique(['carrier', 'number'])
  })
  await db.schema.createTable('invoice_lines', (t) => {
    t.integer('invoice_id').notNullable().references('carrier_invoices.id')
    t.integer('line').notNullable()
    t.text('tracking_number').notNullable()
    t.integer('label_id').references('labels.id')
    t.integer('billed').notNullable()
    t.integer('expected')
    t.text('what').notNullable()
    t.primary(['invoice_id', 'line'])
  })
  await db.raw(`INSERT INTO bookings (key, at, day, kind, carrier, debit, credit, amount, label_id, author)
    SELECT 'label-' || label_id || '-' || kind, at, day, CASE kind WHEN 'buy' THEN 'purchase' ELSE 'void' END, carrier, CASE kind WHEN 'buy' THEN 'shipping' ELSE 'refunds due' END, CASE kind WHEN 'buy' THEN 'balance' ELSE 'shipping' END, ABS(amount), label_id, 'Gharry' FROM ledger`)
}
