import type { Knex } from 'knex'

/** Pictures of items, by which packers know them. */
export async function itemPictures(db: Knex): Promise<void> {
  await db.schema.createTable('item_pictures', (t) => {
    t.text('sku').primary()
    // Drawn anew as WebP.
    t.binary('content').notNullable()
    // Moves on with each change: an address with it may be kept by browsers.
    t.text('changed_at').notNullable()
  })
}
