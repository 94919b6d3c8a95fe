import type { OrderState } from '@/core/order'
import type { Database } from './database'
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
export async function membersOf(db: Database, shipment: number): Promise<number[]> {
  return (
    (await db('combined_orders').where({ shipmentId: shipment }).orderBy('member_id').select('member_id')) as {
      memberId: number
    }[]
  ).map((row) => row.memberId)
}

/** The shipment that an order goes in; undefined when it goes by itself. */
export async function shipmentOf(db: Database, member: number): Promise<number | undefined> {
  return (
    (await db('combined_orders').where({ memberId: member }).first('shipment_id')) as { shipmentId: number } | undefined
  )?.shipmentId
}

/**
 * Moves an order along the line, and the orders in it: they are labelled, dispatched and delivered with it, and else
 * only combined.
 */
export async function setShipmentState(db: Database, id: number, state: OrderState): Promise<void> {
  await setState(db, [id], state)
  await setState(
    db,
    await membersOf(db, id),
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
