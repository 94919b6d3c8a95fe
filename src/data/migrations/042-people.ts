import type { Knex } from 'knex'
import { keepAudit } from '../engine'

/** Who may do what: people with their sign-ins, and the audit of what they did. */
export async function people(db: Knex): Promise<void> {
  await db.schema.createTable('people', (t) => {
    t.increments('id')
    t.text('name').notNullable()
    // In lower case: people sign in with it.
    t.text('email').notNullable().unique()
    t.text('role').notNullable()
    // The one location whose orders a partner sees.
    t.text('location')
    // As argon2id writes it, with its salt; nothing before the first one is chosen.
    t.text('password')
    // The secret of the second factor, sealed; it counts once a code of it was given.
    t.text('second')
    t.text('second_since')
    // The last step of time whose code was used: none is used twice.
    t.integer('second_step').notNullable().defaultTo(0)
    // JSON list of what recovery codes hash to.
    t.text('recovery').notNullable().defaultTo('[]')
    // What a badge hashes to, and the short code that goes with it as argon2id writes it.
    t.text('badge').unique()
    t.text('badge_code')
    // Who they are at an outside provider.
    t.text('subject').unique()
    t.text('made_at').notNullable()
    t.text('ended_at')
  })
  await db.schema.createTable('passkeys', (t) => {
    t.increments('id')
    t.integer('person').notNullable().references('id').inTable('people')
    t.text('credential').notNullable().unique()
    t.binary('public_key').notNullable()
    t.integer('counter').notNullable()
    t.text('transports').notNullable()
    t.text('name').notNullable()
    t.text('made_at').notNullable()
    t.text('used_at')
    t.index('person')
  })
  await db.schema.createTable('sign_ins', (t) => {
    t.increments('id')
    // What the cookie hashes to.
    t.text('hash').notNullable().unique()
    t.integer('person').notNullable().references('id').inTable('people')
    // Whether all factors were given; one that waits for the second may do nothing else.
    t.boolean('whole').notNullable()
    t.text('how').notNullable()
    t.text('made_at').notNullable()
    t.text('seen_at').notNullable()
    t.text('ends_at').notNullable()
    t.text('address').notNullable()
    t.text('agent').notNullable()
    t.index('person')
  })
  await db.schema.createTable('person_links', (t) => {
    t.text('hash').primary()
    // Nobody's: it makes the first owner.
    t.integer('person').references('id').inTable('people')
    t.text('ends_at').notNullable()
    t.text('used_at')
  })
  await db.schema.createTable('proposals', (t) => {
    t.increments('id')
    t.text('endpoint').notNullable()
    // Path and query as they were asked for.
    t.text('path').notNullable()
    // What was sent, sealed: it may hold credentials.
    t.text('body').notNullable()
    // What can be shown of it.
    t.text('shown').notNullable()
    t.integer('by').notNullable().references('id').inTable('people')
    t.text('made_at').notNullable()
    t.text('state').notNullable()
    t.integer('agreed_by').references('id').inTable('people')
    t.text('settled_at')
    t.text('outcome').notNullable().defaultTo('')
    t.index(['state', 'id'])
  })
  await db.schema.createTable('audit', (t) => {
    t.integer('seq').primary()
    t.text('at').notNullable()
    // Who: person:3, token:1, terminal, or gharry itself.
    t.text('actor').notNullable()
    t.text('name').notNullable()
    t.text('role').notNullable()
    t.text('address').notNullable()
    t.text('request').notNullable()
    t.text('action').notNullable()
    t.text('about').notNullable()
    t.text('before')
    t.text('after')
    t.text('previous').notNullable()
    t.text('hash').notNullable()
    t.index(['action', 'seq'])
    t.index(['actor', 'seq'])
    t.index(['about', 'seq'])
  })
  // Views were kept before anybody had a name: they are everybody's.
  await db('desk_views').update({ shared: true })
  await keepAudit(db)
}
