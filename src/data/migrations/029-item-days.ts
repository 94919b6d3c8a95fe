import type { Knex } from 'knex'

/** How many orders of a day had a SKU; a day that was counted has a row without any. */
export async function itemDays(db: Knex): Promise<void> {
  await db.schema.createTable('item_days', (t) => {
    t.text('day').notNullable()
    t.text('sku').notNullable()
    t.integer('n').notNullable()
    t.primary(['day', 'sku'])
  })
}
