import type { Knex } from 'knex'

/** Who may ask Gharry from outside, and what was answered to a key, so that the same question twice is one. */
export async function open(db: Knex): Promise<void> {
  await db.schema.createTable('api_tokens', (t) => {
    t.increments('id')
    t.text('name').notNullable()
    /** SHA-256 of the token; it is shown once, and kept nowhere. */
    t.text('hash').notNullable().unique()
    t.text('beginning').notNullable()
    t.text('scopes').notNullable()
    t.text('made_at').notNullable()
    t.text('last_used_at')
    t.text('revoked_at')
  })
  await db.schema.createTable('api_answers', (t) => {
    t.integer('token').notNullable().references('api_tokens.id')
    t.text('key').notNullable()
    t.text('asked').notNullable()
    t.text('at').notNullable()
    t.integer('status')
    t.text('body')
    t.primary(['token', 'key'])
  })
}
