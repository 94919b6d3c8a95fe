import type { Knex } from 'knex'

/** The number of the label with which a parcel comes back. */
export async function returns(db: Knex): Promise<void> {
  await db.schema.alterTable('label_parcels', (t) => {
    t.text('return_number')
    t.index(['return_number'])
  })
}
