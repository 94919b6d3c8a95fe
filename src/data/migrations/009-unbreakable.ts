import type { Knex } from 'knex'

/**
 * What kills and faults asked for: owners of leases, a clock for work that never goes back, top-ups that are written
 * before they are asked for, news of parcels that came too early, items of orders in a table of their own, and indexes
 * for what an open order asks for every few seconds.
 */
export async function unbreakable(db: Knex): Promise<void> {
  for (const table of ['labels', 'posts', 'notices', 'imports', 'jobs'])
    await db.schema.alterTable(table, (t) => void t.text('lease_owner'))
  await db.schema.createTable('work_clock', (t) => {
    t.integer('id').primary()
    t.text('at').notNullable()
  })
  await db.schema.createTable('topups', (t) => {
    t.increments('id')
    /** One key for one intent, made where it is decided. */
    t.text('key').notNullable().unique()
    t.text('carrier').notNullable()
    t.integer('amount').notNullable()
    t.text('state').notNullable()
    t.text('author').notNullable()
    t.text('asked_at').notNullable()
    t.text('day').notNullable()
    t.text('settled_at')
    t.text('problem')
    t.index(['carrier', 'state'])
  })
  await db.schema.alterTable('carrier_invoices', (t) => {
    t.text('taken_back_at')
  })
  await db.schema.createTable('early_events', (t) => {
    t.increments('id')
    t.text('carrier').notNullable()
    t.text('tracking_number').notNullable()
    t.text('remote_id').notNullable()
    t.text('at').notNullable()
    t.text('status').notNullable()
    t.text('place').notNullable()
    t.text('text').notNullable()
    t.text('seen_at').notNullable()
    t.unique(['carrier', 'tracking_number', 'remote_id'])
  })
  await db.schema.alterTable('label_parcels', (t) => {
    /** When the carrier saw what `status` says. */
    t.text('status_at')
  })
  await db.schema.alterTable('editions', (t) => {
    /** Published for at once: in force whatever the clock says afterwards. */
    t.boolean('at_once').notNullable().defaultTo(false)
    /** The draft's revision that it was made of. */
    t.integer('draft_revision')
  })
  await db('editions').whereRaw('in_force_at = published_at').update({ at_once: true })
  await db.schema.createTable('order_items', (t) => {
    t.integer('order_id').notNullable().references('orders.id')
    t.text('sku').notNullable()
    t.integer('quantity').notNullable()
    t.index(['sku', 'order_id'])
    t.index(['order_id'])
  })
  await fillItems(db)
  await db.schema.alterTable('posts', (t) => void t.index(['order_id', 'state', 'id']))
  await db.schema.alterTable('notices', (t) => void t.index(['order_id']))
  await db.schema.alterTable('labels', (t) => void t.index(['carrier', 'state']))
}

async function fillItems(db: Knex): Promise<void> {
  for (let after = 0; ;) {
    const page = (await db('order_facts').where('order_id', '>', after).orderBy('order_id').limit(1000)) as {
      order_id: number
      facts: string
    }[]
    const last = page[page.length - 1]
    if (!last) return
    const rows = page.flatMap(({ order_id, facts }) =>
      (JSON.parse(facts) as { items: { sku: string; quantity: number }[] }).items.map(({ sku, quantity }) => ({
        order_id,
        sku,
        quantity,
      })),
    )
    for (let i = 0; i < rows.length; i += 200) await db('order_items').insert(rows.slice(i, i + 200))
    after = last.order_id
  }
}
