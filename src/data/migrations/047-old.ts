import type { Knex } from 'knex'

/** Orders of old months whose facts, decisions and histories are in files; see `oldOrders.ts`. */
export async function old(db: Knex): Promise<void> {
  await db.schema.createTable('old_files', (t) => {
    t.increments('id')
    t.text('month').notNullable()
    // The name under which the file is kept.
    t.text('name').notNullable().unique()
    t.integer('orders').notNullable()
    t.bigInteger('bytes').notNullable()
    // SHA-256 of the file, in hexadecimal.
    t.text('hash').notNullable()
    t.text('written_at').notNullable()
    // When its orders were taken out of the books; null while they are in both.
    t.text('taken_out_at')
  })
  await db.schema.alterTable('orders', (t) => {
    t.integer('old_file')
  })
  await db.raw('CREATE INDEX orders_old_file ON orders(old_file) WHERE old_file IS NOT NULL')
}
