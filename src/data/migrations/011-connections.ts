import type { Knex } from 'knex'

/**
 * Connections of one's own: their settings, their secrets (sealed), and how their calls went. A channel that was set up
 * before keeps its address; its key and secret are entered anew, as they were in the environment.
 */
export async function connections(db: Knex): Promise<void> {
  await db.schema.createTable('connections', (t) => {
    t.text('id').primary()
    t.text('role').notNullable()
    t.text('belongs_to').notNullable()
    t.text('kind').notNullable()
    t.text('name').notNullable()
    t.text('settings').notNullable().defaultTo('{}')
    t.text('secrets')
    t.boolean('on').notNullable().defaultTo(true)
    t.integer('version').notNullable().defaultTo(1)
    t.text('made_at').notNullable()
    t.text('last_success_at')
    t.text('last_failure_at')
    t.text('last_failure_kind')
    t.text('last_failure')
    t.text('ends_at')
    t.index(['role', 'belongs_to'])
  })
  await db.schema.createTable('connection_hours', (t) => {
    t.text('connection').notNullable().references('connections.id').onDelete('CASCADE')
    t.text('hour').notNullable()
    t.integer('calls').notNullable()
    t.integer('failures').notNullable()
    t.integer('ms').notNullable()
    t.primary(['connection', 'hour'])
  })
  await db.schema.alterTable('channels', (t) => {
    t.text('from_day')
    t.text('statuses').notNullable().defaultTo('')
    t.boolean('mail_buyers').notNullable().defaultTo(true)
    t.text('currency').notNullable().defaultTo('')
    t.text('language').notNullable().defaultTo('')
    t.boolean('retired').notNullable().defaultTo(false)
  })
  const at = new Date().toISOString()
  const before = (await db('channels').select('id', 'name', 'kind', 'base_url')) as {
    id: string
    name: string
    kind: string
    base_url: string
  }[]
  const kindNow = (kind: string): string => (kind === 'file' ? 'files' : 'keyed-shop')
  for (const { id, name, kind, base_url } of before)
    await db('connections').insert({
      id,
      role: 'channel',
      belongs_to: id,
      kind: kindNow(kind),
      name,
      settings: JSON.stringify(kind === 'file' ? {} : { address: base_url }),
      made_at: at,
    })
  await db('channels').where({ kind: 'shop' }).update({ kind: 'keyed-shop' })
  await db('channels').where({ kind: 'file' }).update({ kind: 'files' })
  await db('imports').where({ kind: 'shop' }).update({ kind: 'fetch' })
  await db.schema.alterTable('channels', (t) => t.dropColumn('base_url'))
}
