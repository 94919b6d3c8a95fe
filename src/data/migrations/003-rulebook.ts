import type { Knex } from 'knex'

/** Editions that come into force later, holds that end by themselves, and what a trial or a re-routing changed. */
export async function rulebook(db: Knex): Promise<void> {
  await db.schema.alterTable('editions', (t) => {
    /** From when it is in force; the youngest moment that has come wins. */
    t.text('in_force_at')
    t.text('withdrawn_at')
  })
  await db('editions').update({ in_force_at: db.ref('published_at') })
  await db.schema.alterTable('orders', (t) => {
    t.text('hold_until')
    t.text('speed')
    /** 0 urgent, 1 normal, 2 later. */
    t.integer('priority').notNullable().defaultTo(1)
    t.boolean('notice').notNullable().defaultTo(true)
    t.text('tell_when')
    t.index(['state', 'hold_until'])
    t.index(['channel_id', 'wording'])
  })
  await db.schema.createTable('outcome_changes', (t) => {
    t.integer('job_id').notNullable().references('jobs.id')
    t.integer('order_id').notNullable()
    /** How far the cost moved, in minor units, either way. */
    t.integer('size').notNullable()
    t.text('change').notNullable()
    t.primary(['job_id', 'order_id'])
    t.index(['job_id', 'size'])
  })
}
