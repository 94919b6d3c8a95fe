import type { Knex } from 'knex'

/**
 * Where the parcels on their way are, one row each, narrow and by themselves: what people look at all day does not grow
 * with the orders that ever were. And how long parcels of a lane are usually silent.
 */
export async function board(db: Knex): Promise<void> {
  await db.schema.createTable('board', (t) => {
    t.integer('label_id').notNullable().references('labels.id')
    t.integer('position').notNullable()
    t.integer('order_id').notNullable()
    t.text('number').notNullable()
    t.text('tracking_number').notNullable()
    t.text('carrier').notNullable()
    t.text('service').notNullable()
    t.text('zone').notNullable()
    t.text('location').notNullable()
    t.text('country').notNullable()
    t.text('status').notNullable()
    t.text('status_at').notNullable()
    t.text('bought_at').notNullable()
    t.text('ship_on').notNullable()
    t.text('due')
    t.text('silent_from')
    t.primary(['label_id', 'position'])
    t.index(['status', 'ship_on'])
    t.index(['carrier', 'status'])
    t.index(['service'])
    t.index(['location'])
    t.index(['country'])
    t.index(['due', 'label_id'])
    t.index(['silent_from'])
    t.index(['status_at', 'label_id'])
    t.index(['tracking_number'])
  })
  await db.schema.createTable('lane_silence', (t) => {
    t.text('service').notNullable()
    t.text('zone').notNullable()
    t.integer('hours').notNullable()
    t.integer('seen').notNullable()
    t.primary(['service', 'zone'])
  })
  // What is on its way now; when each was handed over, and from when it is silent, comes with its next news.
  const bought = 'COALESCE(labels.bought_at, labels.made_at)'
  await db.raw(`INSERT INTO board
    SELECT labels.id, p.position, labels.order_id, orders.number, COALESCE(p.tracking_number, ''), labels.carrier,
      labels.service, labels.zone, labels.location, COALESCE(orders.country, ''), COALESCE(p.status, 'announced'),
      COALESCE(p.status_at, ${bought}), ${bought}, SUBSTR(${bought}, 1, 10),
      COALESCE(NULLIF(orders.promised_by, ''), NULLIF(labels.arrives_on, ''), '9999-12-31'), NULL
    FROM labels
    JOIN label_parcels AS p ON p.label_id = labels.id
    JOIN orders ON orders.id = labels.order_id
    WHERE labels.state = 'bought' AND labels.delivered_at IS NULL AND COALESCE(p.status, 'announced') <> 'delivered'`)
}
