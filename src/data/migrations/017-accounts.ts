import type { Knex } from 'knex'

/**
 * Several accounts at one carrier: which locations use one, which a label was bought with, and how far the news of each
 * is read. Until now a carrier had one that counted, the oldest.
 */
export async function accounts(db: Knex): Promise<void> {
  await db.schema.alterTable('connections', (t) => {
    t.text('locations')
  })
  await db.schema.alterTable('labels', (t) => {
    t.text('account')
  })
  const rows = (await db('connections').where({ role: 'carrier' }).orderBy(['made_at', 'id'])) as {
    id: string
    belongs_to: string
  }[]
  const oldest = new Map<string, string>()
  for (const { id, belongs_to: carrier } of rows) if (!oldest.has(carrier)) oldest.set(carrier, id)
  for (const [carrier, id] of oldest) await db('carrier_cursors').where({ carrier }).update({ carrier: id })
}
