import type { Knex } from 'knex'
import { wakeWorkers } from '../engine'

/** What several servers and workers share: turns at carriers, counts of tries and calls, challenges of passkeys, files. */
export async function many(db: Knex): Promise<void> {
  await db.schema.createTable('turns', (t) => {
    t.text('key').primary()
    // When the next turn begins, in microseconds since 1970.
    t.bigInteger('at').notNullable()
  })
  await db.schema.createTable('uses', (t) => {
    t.text('key').primary()
    t.integer('used').notNullable()
    // Until when they count, in milliseconds since 1970.
    t.bigInteger('until').notNullable()
  })
  await db.schema.createTable('challenges', (t) => {
    t.text('key').primary()
    t.text('challenge').notNullable()
    t.bigInteger('until').notNullable()
  })
  // Files in parts, where they are kept in the books.
  await db.schema.createTable('stored_files', (t) => {
    t.text('name').primary()
    t.text('key').notNullable()
    t.bigInteger('bytes').notNullable()
    t.text('made_at').notNullable()
  })
  await db.schema.createTable('stored_parts', (t) => {
    t.text('key').notNullable()
    t.integer('part').notNullable()
    t.text('made_at').notNullable()
    t.binary('content').notNullable()
    t.primary(['key', 'part'])
  })
  // How far a move of all books into these has come; see `moving.ts`.
  await db.schema.createTable('moving', (t) => {
    t.text('name').primary()
    t.text('after')
    t.integer('copied').notNullable()
    t.integer('done').notNullable()
  })
  // Where the content is kept, where that is not in the row.
  for (const table of ['label_papers', 'logos', 'pictures', 'item_pictures'])
    await db.schema.alterTable(table, (t) => {
      t.text('file')
    })
  await wakeWorkers(db)
}
