import { grams, type Grams } from '@/core/units'
import { type Order, waitingStates } from '@/core/order'
import type { DecisionId, Pins, Routed } from '@/core/rulebook/language'
import { chunks, fromJson, toJson, type Database } from './database'

interface PinRow {
  orderId: number
  decision: DecisionId
  value: string
  author: string
  madeAt: string
}

/** The hand pins of many orders; orders without any are left out. */
export async function pinsOf(db: Database, orders: readonly number[]): Promise<Map<number, Pins>> {
  const pins = new Map<number, Record<string, unknown>>()
  for (const part of chunks(orders, 500)) {
    const rows: PinRow[] = await db('hand_pins').whereIn('order_id', part)
    for (const row of rows) pins.set(row.orderId, { ...pins.get(row.orderId), [row.decision]: fromJson(row.value) })
  }
  return pins
}

/** The hand pins of an order, with who set them and when. */
export async function pinDetails(
  db: Database,
  order: number,
): Promise<{ decision: DecisionId; value: unknown; author: string; madeAt: string }[]> {
  const rows: PinRow[] = await db('hand_pins').where({ orderId: order })
  return rows.map((row) => ({
    decision: row.decision,
    value: fromJson(row.value),
    author: row.author,
    madeAt: row.madeAt,
  }))
}

/** Pins a decision of an order by hand; a later pin replaces it. */
export async function setPin(
  db: Database,
  order: number,
  decision: DecisionId,
  value: unknown,
  author: string,
  now: string,
): Promise<void> {
  await db('hand_pins')
    .insert({ orderId: order, decision, value: toJson(value), author, madeAt: now })
    .onConflict(['order_id', 'decision'])
    .merge()
}

/** Releases a decision; false when it was not pinned. */
export async function removePin(db: Database, order: number, decision: DecisionId): Promise<boolean> {
  return (await db('hand_pins').where({ orderId: order, decision }).delete()) > 0
}

/**
 * Orders of a time with hand pins, and the youngest of those that went their way without one, with what was decided
 * for each.
 */
export async function recentPrecedents(
  db: Database,
  since: string,
  most: number,
): Promise<{ id: number; order: Order; pins: Pins; outcome: Routed }[]> {
  const base = (): ReturnType<Database> =>
    db('orders')
      .where('placed_at', '>=', since)
      .whereNot({ state: 'cancelled' })
      .join('order_facts', 'order_facts.order_id', 'orders.id')
      .join('decisions', 'decisions.order_id', 'orders.id')
      .orderBy('orders.placed_at', 'desc')
      .select('orders.id', 'order_facts.facts', 'decisions.outcome') as ReturnType<Database>
  const pinned = (await base()
    .where({ pinned: true })
    .limit(most / 2)) as { id: number; facts: string; outcome: string }[]
  if (pinned.length === 0) return []
  const others = (await base()
    .where({ pinned: false })
    .whereNotIn('orders.state', waitingStates)
    .limit(most / 2)) as typeof pinned
  const pins = await pinsOf(
    db,
    pinned.map((row) => row.id),
  )
  return [...pinned, ...others].map((row) => ({
    id: row.id,
    order: fromJson<Order>(row.facts),
    outcome: fromJson<Routed>(row.outcome),
    pins: pins.get(row.id) ?? {},
  }))
}

/**
 * Weight corrections that people pinned to orders, and those that a scale showed and a packer confirmed, the youngest
 * first.
 */
export async function weightCorrections(
  db: Database,
): Promise<{ order: number; items: Order['items']; grams: Grams }[]> {
  const rows = (await db('hand_pins')
    .where({ decision: 'weight' })
    .join('order_facts', 'order_facts.order_id', 'hand_pins.order_id')
    .orderBy('hand_pins.made_at', 'desc')
    .limit(2000)
    .select('hand_pins.order_id', 'hand_pins.value', 'order_facts.facts')) as {
    orderId: number
    value: string
    facts: string
  }[]
  // A parcel that is not all of an order says nothing of one item.
  const weighed = (await db('checks')
    .where('checks.state', 'done')
    .whereNot('checks.why', '')
    .whereNotNull('checks.weight')
    .join('order_facts', 'order_facts.order_id', 'checks.order_id')
    .whereNotExists(
      db('label_parcels')
        .select(db.raw('1'))
        .whereRaw('label_parcels.label_id = checks.label_id AND label_parcels.position > 1'),
    )
    .orderBy('checks.id', 'desc')
    .limit(2000)
    .select('checks.order_id', 'order_facts.facts', { by: db.raw('checks.weight - checks.computed') })) as {
    orderId: number
    facts: string
    by: number
  }[]
  return [
    ...rows.map(({ orderId, value, facts }) => ({ order: orderId, facts, grams: grams(Number(JSON.parse(value))) })),
    ...weighed.map(({ orderId, facts, by }) => ({ order: orderId, facts, grams: grams(Number(by)) })),
  ].map(({ facts, ...rest }) => ({ ...rest, items: fromJson<Order>(facts).items }))
}
