import type { Knex } from 'knex'

/** How far the balance at a carrier may go below nothing. */
export async function credit(db: Knex): Promise<void> {
  await db.schema.alterTable('carrier_accounts', (t) => {
    t.integer('credit_limit')
  })
}
