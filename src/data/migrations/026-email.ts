import type { Knex } from 'knex'

/** Orders are looked for by the beginning of an e-mail address. */
export async function email(db: Knex): Promise<void> {
  await db.schema.alterTable('orders', (t) => void t.index(['email']))
}
