import type { Knex } from 'knex'
import { changeOldBooks } from '../engine'

/** What carriers owe for labels that were voided, one row a label, and what became of it. */
export async function refunds(db: Knex): Promise<void> {
  await db.schema.createTable('refunds', (t) => {
    t.integer('label_id').primary().references('labels.id')
    t.text('carrier').notNullable()
    t.integer('amount').notNullable()
    t.text('state').notNullable()
    t.text('voided_at').notNullable()
    // The day by which the carrier has promised it.
    t.text('due_on').notNullable()
    // When the carrier is asked by message; null where a person asks.
    t.text('next_ask')
    t.text('asked_at')
    t.integer('asked').notNullable().defaultTo(0)
    t.text('settled_at')
    t.integer('granted')
    t.text('note').notNullable().defaultTo('')
    t.index(['state', 'due_on'])
    t.index(['state', 'next_ask'])
  })
  // Of before: what an invoice has granted, and did not take back, is settled.
  await changeOldBooks(
    db,
    `INSERT INTO refunds (label_id, carrier, amount, state, voided_at, due_on, settled_at, granted)
    SELECT ledger.label_id, ledger.carrier, -ledger.amount,
      CASE WHEN COALESCE(paid.amount, 0) > 0 THEN 'granted' ELSE 'pending' END,
      ledger.at, date(ledger.day, '+14 days'),
      CASE WHEN COALESCE(paid.amount, 0) > 0 THEN paid.at END,
      CASE WHEN COALESCE(paid.amount, 0) > 0 THEN paid.amount END
    FROM ledger LEFT JOIN (
      SELECT label_id, MAX(at) AS at,
        SUM(CASE WHEN credit = 'refunds due' THEN amount ELSE -amount END) AS amount
      FROM bookings WHERE kind = 'refund' GROUP BY label_id
    ) paid ON paid.label_id = ledger.label_id
    WHERE ledger.kind = 'refund pending' AND ledger.amount < 0`,
  )
  // What was never scanned by its carrier, whether it was handed over or not.
  await db.raw(
    `CREATE INDEX labels_unseen ON labels (ship_on) WHERE COALESCE(status, 'announced') = 'announced' AND delivered_at IS NULL`,
  )
}
