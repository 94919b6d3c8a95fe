import type { Knex } from 'knex'

/** Why an order needs a person, in a few words for lists; the whole sentence stays in `problem`. */
export async function reasons(db: Knex): Promise<void> {
  await db.schema.alterTable('orders', (t) => void t.text('reason'))
}
