import type { Knex } from 'knex'

/**
 * What people decided about an address as a channel wrote it; it holds for every order that comes with the same one.
 */
export async function addresses(db: Knex): Promise<void> {
  await db.schema.createTable('address_mends', (t) => {
    /** A fingerprint of the address as it came. */
    t.text('address').primary()
    /** The address to use instead; null to use it as it is. */
    t.text('mended')
    t.text('author').notNullable()
    t.text('made_at').notNullable()
  })
}
