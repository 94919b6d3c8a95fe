import type { OrderState } from '@/core/order'
import { chunks, type Database } from './database'
import { setState } from './orders'

/**
 * Orders that go as one shipment: the shipment is an order of its own, which is routed, bought and printed; its
 * members are told.
 */
export async function addMembers(
  db: Database,
  shipment: number,
  members: readonly number[],
  author: string,
  now: string,
): Promise<void> {
  await db('combined_orders').insert(
    members.map((member) => ({ memberId: member, shipmentId: shipment, author, madeAt: now })),
  )
}

/** Takes a shipment’s orders out of it. */
export async function removeMembers(db: Database, shipment: number): Promise<void> {
  await db('combined_orders').where({ shipmentId: shipment }).delete()
}

/** The orders that a shipment is made of; none for an order that goes alone. */
export const membersOf = async (db: Database, shipment: number): Promise<readonly number[]> =>
  (await membersOfAll(db, [shipment])).get(shipment) ?? []

/** The orders that each of these shipments is made of, in their order; one that goes alone is left out. */
export async function membersOfAll(db: Database, shipments: readonly number[]): Promise<Map<number, number[]>> {
  const found = new Map<number, number[]>()
  for (const part of chunks(shipments, 500)) {
    const rows = (await db('combined_orders')
      .whereIn('shipment_id', part)
      .orderBy('member_id')
      .select('shipment_id', 'member_id')) as { shipmentId: number; memberId: number }[]
    for (const { shipmentId, memberId } of rows) found.set(shipmentId, [...(found.get(shipmentId) ?? []), memberId])
  }
  return found
}

/** The shipment that an order goes in; undefined when it goes by itself. */
export async function shipmentOf(db: Database, member: number): Promise<number | undefined> {
  return (
    (await db('combined_orders').where({ memberId: member }).first('shipment_id')) as { shipmentId: number } | undefined
  )?.shipmentId
}

/**
 * Moves orders along the line, and the orders in them: they are labelled, dispatched and delivered with them, and else
 * only combined.
 */
export async function setShipmentState(db: Database, ids: readonly number[], state: OrderState): Promise<void> {
  await setState(db, ids, state)
  await setState(
    db,
    [...(await membersOfAll(db, ids)).values()].flat(),
    state === 'labelled' || state === 'dispatched' || state === 'delivered' ? state : 'combined',
  )
}

/** Other orders in these states that have the same buyer and place. */
export async function ordersWithKey(
  db: Database,
  key: string,
  states: readonly OrderState[],
  but: number,
): Promise<number[]> {
  if (key === '') return []
  return (
    (await db('orders')
      .where({ combineKey: key })
      .whereIn('state', states)
      .whereNot({ id: but })
      .orderBy('id')
      .limit(50)
      .select('id')) as { id: number }[]
  ).map((row) => row.id)
}

/** Groups of ready orders that rules want together, without hand pins. */
export async function groupsByRule(db: Database, most: number): Promise<number[][]> {
  const keys = (await db('orders')
    .where({ state: 'ready', combine: true, pinned: false })
    .whereNot({ combineKey: '' })
    .groupBy('combine_key')
    .havingRaw('COUNT(*) > 1')
    .limit(most)
    .select('combine_key')) as { combineKey: string }[]
  return Promise.all(
    keys.map(async ({ combineKey }) =>
      (
        (await db('orders')
          .where({ state: 'ready', combine: true, pinned: false, combineKey })
          .orderBy('id')
          .select('id')) as { id: number }[]
      ).map((row) => row.id),
    ),
  )
}
