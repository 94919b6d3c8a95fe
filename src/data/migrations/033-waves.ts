import type { Knex } from 'knex'

/** What a batch is called, and until when it has to leave: a wave is a batch that leaves together. */
export async function waves(db: Knex): Promise<void> {
  await db.schema.alterTable('batches', (t) => {
    t.text('name').notNullable().defaultTo('')
    t.text('leaves_by')
  })
  // What stands here still: a handful of all labels that ever were.
  await db.raw(
    `CREATE INDEX labels_standing ON labels (state, location, service, checked_at) WHERE dispatched_at IS NULL AND COALESCE(status, 'announced') = 'announced'`,
  )
}
