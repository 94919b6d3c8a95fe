import type { Knex } from 'knex'

/** Which processes run, and since when a clock that jumped is taken for right. */
export async function running(db: Knex): Promise<void> {
  await db.schema.createTable('processes', (t) => {
    t.text('id').primary()
    t.text('kind').notNullable()
    t.text('version').notNullable()
    t.text('started_at').notNullable()
    t.text('seen_at').notNullable()
    // Why it changes nothing; null where it does.
    t.text('read_only')
    // JSON list of its slowest statements, without values.
    t.text('slow').notNullable().defaultTo('[]')
  })
  await db.schema.createTable('clock_trust', (t) => {
    t.integer('id').primary()
    t.text('at').notNullable()
  })
}
