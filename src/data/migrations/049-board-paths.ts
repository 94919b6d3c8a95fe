import type { Knex } from 'knex'

/**
 * The board is read in the order of each of its sorts by an index, from either end; what its filters leave is counted
 * in an index of them alone.
 */
export async function boardPaths(db: Knex): Promise<void> {
  await db.schema.alterTable('board', (t) => {
    t.dropIndex(['carrier', 'status'])
    t.dropIndex(['country'])
    t.dropIndex(['due', 'label_id'])
    t.dropIndex(['status_at', 'label_id'])
  })
  const parcel = ['label_id', 'position']
  await db.schema.alterTable('board', (t) => {
    t.index(['carrier', 'status', 'location', 'country', 'service'])
    // Whether it is late is told by these alone.
    t.index(['due', ...parcel, 'status', 'told_day'])
    for (const column of ['status_at', 'bought_at', 'number', 'carrier', 'country']) t.index([column, ...parcel])
  })
}
