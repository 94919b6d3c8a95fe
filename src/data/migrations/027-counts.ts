import type { Knex } from 'knex'
import { keepOrderCounts } from '../engine'

/** Counts that the Desk asks for all day, kept as orders change; and indexes of what few orders have. */
export async function counts(db: Knex): Promise<void> {
  await db.schema.createTable('order_counts', (t) => {
    for (const column of ['state', 'channel_id', 'country', 'service', 'location']) t.text(column).notNullable()
    t.boolean('late').notNullable()
    t.boolean('pinned').notNullable()
    t.integer('n').notNullable()
    t.primary(['state', 'channel_id', 'country', 'service', 'location', 'late', 'pinned'])
  })
  await db.schema.createTable('order_tag_counts', (t) => {
    t.text('tag').primary()
    t.integer('n').notNullable()
  })
  await keepOrderCounts(db)
  await db.raw('CREATE INDEX orders_late ON orders(country, service, state, location, channel_id) WHERE days_late > 0')
  await db.raw('CREATE INDEX orders_pinned ON orders(id) WHERE pinned = 1')
  await db.raw('CREATE INDEX orders_flagged ON orders(id) WHERE flag IS NOT NULL')
  await db.raw('CREATE INDEX orders_reported ON orders(id) WHERE report IS NOT NULL')
}
