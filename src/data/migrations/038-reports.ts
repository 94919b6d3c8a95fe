import type { Knex } from 'knex'
import { changeOldBooks } from '../engine'

/**
 * What reports ask of each shipment, kept with it: its weight, the list price, what the buyer paid for shipping, and
 * the rule that chose.
 */
export async function reports(db: Knex): Promise<void> {
  await db.schema.alterTable('labels', (t) => {
    t.integer('weight')
    t.integer('list_price')
    t.integer('buyer_paid')
    t.text('rule').notNullable().defaultTo('')
  })
  await changeOldBooks(
    db,
    `UPDATE labels SET weight = (SELECT SUM(weight) FROM label_parcels WHERE label_parcels.label_id = labels.id)`,
  )
  // Of before: as the order was decided last, and paid in the home currency.
  await changeOldBooks(
    db,
    `UPDATE labels SET
    list_price = (SELECT json_extract(outcome, '$.quote.list') FROM decisions
      WHERE decisions.order_id = labels.order_id AND json_extract(outcome, '$.quote.service') = labels.service),
    buyer_paid = (SELECT json_extract(facts, '$.shippingPaid.minor') FROM order_facts
      WHERE order_facts.order_id = labels.order_id AND json_extract(facts, '$.shippingPaid.currency') =
        (SELECT json_extract(content, '$.rates.home') FROM worlds ORDER BY version DESC LIMIT 1))
    WHERE own = 0`,
  )
}
