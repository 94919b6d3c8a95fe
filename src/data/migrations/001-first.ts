import type { Knex } from 'knex'
import { createActiveLabelIndex, createSearchTable } from '../engine'

/** Times are UTC text (ISO 8601), days `YYYY-MM-DD`, money whole minor units, weights grams. */
export async function first(db: Knex): Promise<void> {
  await rulebookTables(db)
  await intakeTables(db)
  await orderTables(db)
  await labelTables(db)
  await outboxTables(db)
}

async function rulebookTables(db: Knex): Promise<void> {
  await db.schema.createTable('worlds', (t) => {
    t.increments('version')
    t.text('content').notNullable()
    t.text('made_at').notNullable()
  })
  await db.schema.createTable('editions', (t) => {
    t.increments('number')
    t.text('content').notNullable()
    t.text('note').notNullable()
    t.text('author').notNullable()
    t.text('published_at').notNullable()
  })
  await db.schema.createTable('drafts', (t) => {
    t.integer('id').primary()
    t.text('content').notNullable()
    t.integer('revision').notNullable()
    t.text('changed_at').notNullable()
  })
  await db.schema.createTable('rule_flow', (t) => {
    t.integer('edition').primary()
    t.text('counts').notNullable()
    t.text('counted_at').notNullable()
  })
}

async function intakeTables(db: Knex): Promise<void> {
  await db.schema.createTable('channels', (t) => {
    t.text('id').primary()
    t.text('name').notNullable()
    t.text('kind').notNullable()
    t.text('base_url').notNullable().defaultTo('')
    t.text('tell_when').notNullable().defaultTo('bought')
    t.text('cursor')
    t.integer('every_minutes').notNullable().defaultTo(0)
    t.text('last_import_at')
  })
  await db.schema.createTable('imports', (t) => {
    t.increments('id')
    t.text('channel_id').notNullable().references('channels.id')
    t.text('kind').notNullable()
    t.text('file').notNullable().defaultTo('')
    t.text('file_name').notNullable().defaultTo('')
    t.text('mapping')
    t.text('state').notNullable()
    for (const count of [
      'fetched',
      'created',
      'updated',
      'unchanged',
      'flagged',
      'cancelled',
      'bad',
      'bytes_done',
      'bytes_total',
      'attempts',
    ])
      t.integer(count).notNullable().defaultTo(0)
    t.text('problem')
    t.text('requested_at').notNullable()
    t.text('started_at')
    t.text('finished_at')
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.index(['state', 'next_at'])
  })
  await db.schema.createTable('import_problems', (t) => {
    t.increments('id')
    t.integer('import_id').notNullable().references('imports.id')
    t.integer('line').notNullable()
    t.text('reason').notNullable()
    t.text('row').notNullable()
    t.index(['import_id'])
  })
}

async function orderTables(db: Knex): Promise<void> {
  await db.schema.createTable('orders', (t) => {
    t.increments('id')
    t.text('channel_id').notNullable().references('channels.id')
    t.text('remote_id').notNullable()
    t.text('number').notNullable()
    t.text('state').notNullable()
    t.integer('rank').notNullable()
    t.text('placed_at').notNullable()
    t.text('promised_by').notNullable()
    t.text('buyer').notNullable()
    t.text('email').notNullable()
    t.text('country').notNullable()
    t.text('city').notNullable()
    t.text('wording').notNullable()
    t.integer('value')
    t.integer('quantity').notNullable()
    t.integer('weight')
    t.text('tags').notNullable().defaultTo('')
    t.text('hold')
    t.text('problem')
    t.text('preset')
    t.text('location')
    t.text('service')
    t.text('carrier')
    t.text('zone')
    t.integer('cost')
    t.text('arrives_on')
    t.integer('days_late')
    t.boolean('buy_by_itself').notNullable().defaultTo(false)
    t.boolean('pinned').notNullable().defaultTo(false)
    t.text('flag')
    t.text('fact_hash').notNullable()
    t.text('imported_at').notNullable()
    t.unique(['channel_id', 'remote_id'])
    t.index(['rank', 'placed_at', 'id'])
    t.index(['state', 'placed_at'])
    for (const column of [
      'placed_at',
      'number',
      'buyer',
      'country',
      'value',
      'weight',
      'service',
      'carrier',
      'cost',
      'arrives_on',
      'days_late',
      'promised_by',
      'location',
    ])
      t.index([column])
    t.index(['email'])
  })
  await db.schema.createTable('order_facts', (t) => {
    t.integer('order_id').primary().references('orders.id')
    t.text('facts').notNullable()
  })
  await db.schema.createTable('order_tags', (t) => {
    t.integer('order_id').notNullable().references('orders.id')
    t.text('tag').notNullable()
    t.primary(['order_id', 'tag'])
    t.index(['tag'])
  })
  await db.schema.createTable('decisions', (t) => {
    t.integer('order_id').primary().references('orders.id')
    t.integer('edition').notNullable()
    t.integer('world').notNullable()
    t.text('decided_at').notNullable()
    t.text('outcome').notNullable()
  })
  await db.schema.createTable('hand_pins', (t) => {
    t.integer('order_id').notNullable().references('orders.id')
    t.text('decision').notNullable()
    t.text('value').notNullable()
    t.text('author').notNullable()
    t.text('made_at').notNullable()
    t.primary(['order_id', 'decision'])
  })
  await db.schema.createTable('order_log', (t) => {
    t.increments('id')
    t.integer('order_id').notNullable().references('orders.id')
    t.text('at').notNullable()
    t.text('author').notNullable()
    t.text('sentence').notNullable()
    t.index(['order_id'])
  })
  await createSearchTable(db)
}

async function labelTables(db: Knex): Promise<void> {
  await db.schema.createTable('batches', (t) => {
    t.increments('id')
    t.text('author').notNullable()
    t.text('made_at').notNullable()
    t.integer('quoted').notNullable()
  })
  await db.schema.createTable('labels', (t) => {
    t.increments('id')
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('batch_id').references('batches.id')
    t.integer('position').notNullable()
    t.text('key').notNullable().unique()
    t.text('token').notNullable().unique()
    t.text('state').notNullable()
    t.text('carrier').notNullable()
    t.text('service').notNullable()
    t.text('zone').notNullable()
    t.text('location').notNullable()
    t.text('request').notNullable()
    t.integer('quoted').notNullable()
    t.integer('charged')
    t.text('tracking_number')
    t.text('symbology')
    t.text('routing')
    t.text('made_at').notNullable()
    t.text('bought_at')
    t.text('voided_at')
    t.text('dispatched_at')
    t.text('delivered_at')
    t.text('printed_at')
    t.text('status')
    t.text('arrives_on')
    t.text('problem')
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.index(['state', 'next_at'])
    t.index(['order_id'])
    t.index(['batch_id', 'position'])
    t.index(['tracking_number'])
    t.index(['bought_at'])
  })
  await createActiveLabelIndex(db)
  await db.schema.createTable('tracking_events', (t) => {
    t.increments('id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('remote_id').notNullable()
    t.text('at').notNullable()
    t.text('status').notNullable()
    t.text('place').notNullable()
    t.text('text').notNullable()
    t.unique(['label_id', 'remote_id'])
  })
  await db.schema.createTable('carrier_cursors', (t) => {
    t.text('carrier').primary()
    t.text('cursor').notNullable()
  })
  await db.schema.createTable('ledger', (t) => {
    t.increments('id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('kind').notNullable()
    t.text('at').notNullable()
    t.text('day').notNullable()
    t.text('carrier').notNullable()
    t.text('service').notNullable()
    t.text('zone').notNullable()
    t.integer('amount').notNullable()
    t.unique(['label_id', 'kind'])
    t.index(['day', 'carrier', 'zone', 'amount'])
  })
}

async function outboxTables(db: Knex): Promise<void> {
  const work = (t: Knex.CreateTableBuilder): void => {
    t.increments('id')
    t.text('state').notNullable()
    t.text('key').notNullable().unique()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.index(['state', 'next_at'])
  }
  await db.schema.createTable('posts', (t) => {
    work(t)
    t.text('kind').notNullable()
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('channel_id').notNullable().references('channels.id')
    t.index(['label_id'])
  })
  await db.schema.createTable('notices', (t) => {
    work(t)
    t.integer('order_id').notNullable().references('orders.id')
    t.integer('label_id').notNullable().references('labels.id')
    t.text('recipient').notNullable()
    t.index(['label_id'])
  })
  await db.schema.createTable('jobs', (t) => {
    work(t)
    t.text('kind').notNullable()
    t.text('payload').notNullable()
    t.integer('done').notNullable().defaultTo(0)
    t.integer('total').notNullable().defaultTo(0)
    t.text('result')
  })
}
