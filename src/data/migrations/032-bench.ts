import type { Knex } from 'knex'

/** What is checked at the benches: parcels, each scan, and what they weigh. */
export async function bench(db: Knex): Promise<void> {
  await db.schema.createTable('checks', (t) => {
    t.increments('id')
    t.integer('label_id').notNullable().references('labels.id')
    t.integer('position').notNullable()
    t.integer('order_id').notNullable().references('orders.id')
    t.text('bench').notNullable()
    t.text('author').notNullable()
    t.text('state').notNullable()
    // How many of each line are in the parcel, as a JSON list.
    t.text('counted').notNullable()
    t.integer('weight')
    t.integer('computed').notNullable()
    // Why a weight was taken that is off, or why it was put aside.
    t.text('why').notNullable().defaultTo('')
    t.text('began_at').notNullable()
    t.text('done_at')
    t.index(['label_id', 'position'])
    t.index(['bench', 'state'])
    t.index(['state', 'done_at'])
  })
  // Two benches never pack one parcel at the same time.
  await db.raw(`CREATE UNIQUE INDEX checks_one_of_each ON checks (label_id, position) WHERE state IN ('open', 'done')`)
  await db.schema.createTable('check_scans', (t) => {
    t.increments('id')
    t.integer('check_id').notNullable().references('checks.id')
    t.text('key').notNullable().unique()
    t.text('at').notNullable()
    t.text('code').notNullable()
    t.text('verdict').notNullable()
    t.integer('line')
    t.integer('pieces').notNullable().defaultTo(0)
    t.index(['check_id'])
  })
  await db.schema.alterTable('labels', (t) => void t.text('checked_at'))
}
