import type { Knex } from 'knex'

/** What a channel was told is read back, and compared. */
export async function checked(db: Knex): Promise<void> {
  await db.schema.alterTable('posts', (t) => {
    t.text('checked_at')
    t.text('differs')
  })
  // What was told long before is not asked about.
  await db('posts')
    .where({ state: 'sent' })
    .update({ checked_at: db.ref('sent_at') })
  await db.raw(`CREATE INDEX posts_to_check ON posts(sent_at) WHERE state = 'sent' AND checked_at IS NULL`)
}
