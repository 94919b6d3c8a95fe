import type { Knex } from 'knex'
import { changeOldBooks } from '../engine'

/** Manifests of what drivers got, the containers in them, and collections that were booked. */
export async function handing(db: Knex): Promise<void> {
  await db.schema.createTable('manifests', (t) => {
    t.increments('id')
    t.text('carrier').notNullable()
    t.text('location').notNullable()
    t.text('reference').notNullable().unique()
    // open; then queued, sent or failed where the carrier is told of it, else kept.
    t.text('state').notNullable()
    t.text('opened_at').notNullable()
    t.text('author').notNullable()
    t.text('closed_at')
    t.text('driver').notNullable().defaultTo('')
    t.text('signature')
    t.text('confirmation').notNullable().defaultTo('')
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.index(['state', 'next_at'])
    t.index(['closed_at'])
  })
  // One lorry at a door at a time.
  await db.raw(`CREATE UNIQUE INDEX manifests_one_open ON manifests (carrier, location) WHERE state = 'open'`)
  await db.schema.createTable('containers', (t) => {
    t.increments('id')
    t.integer('manifest_id').notNullable().references('manifests.id')
    t.text('code').notNullable()
    t.text('made_at').notNullable()
    t.unique(['manifest_id', 'code'])
    t.index(['code'])
  })
  await db.schema.createTable('manifest_parcels', (t) => {
    t.integer('label_id').notNullable().references('labels.id')
    t.integer('position').notNullable()
    t.integer('manifest_id').notNullable().references('manifests.id')
    t.integer('container_id').references('containers.id')
    t.boolean('scanned').notNullable()
    t.text('at').notNullable()
    t.text('author').notNullable()
    // Never two manifests for one parcel.
    t.primary(['label_id', 'position'])
    t.index(['manifest_id', 'at'])
    t.index(['container_id'])
  })
  await db.schema.createTable('collections', (t) => {
    t.increments('id')
    t.text('carrier').notNullable()
    t.text('location').notNullable()
    t.text('day').notNullable()
    t.text('key').notNullable().unique()
    t.text('agreement')
    // own: kept by hand; queued, booked, changing, cancelling, cancelled, failed: asked of the carrier.
    t.text('state').notNullable()
    t.text('wish').notNullable()
    t.text('change')
    t.text('confirmation').notNullable().defaultTo('')
    t.integer('cost').notNullable().defaultTo(0)
    t.text('note').notNullable().defaultTo('')
    t.text('author').notNullable()
    t.integer('attempts').notNullable().defaultTo(0)
    t.text('next_at').notNullable()
    t.text('lease_until')
    t.text('lease_owner')
    t.text('problem')
    t.text('made_at').notNullable()
    t.text('sent_at')
    t.text('seen_at')
    t.index(['state', 'next_at'])
    t.index(['day', 'location', 'carrier'])
  })
  await db.schema.alterTable('labels', (t) => {
    // The day on which it is to be handed over, and the last day on which a person said that it is still here.
    t.text('ship_on')
    t.text('still_here')
  })
  await changeOldBooks(db, `UPDATE labels SET ship_on = json_extract(request, '$.shipOn') WHERE own = 0`)
}
