import { withoutPerson } from '@/core/address'
import type { Item, Order, OrderState } from '@/core/order'
import type { Pins } from '@/core/rulebook/language'
import { packRows, unpackRows } from './packedRows'

/** A past order as a trial decides it again. */
export interface PastOrder {
  readonly id: number
  readonly state: OrderState
  readonly order: Order
  readonly pins?: Pins
}

/**
 * The form in which past orders are kept. It is raised with whatever changes what is kept of them (`packPast`, the
 * fields of an order that rules read, `withoutPerson`): what was kept in another form is made anew. A test holds the
 * form of an order with all fields to this number.
 */
export const pastForm = 1

/** The same item object for the same line: most orders share theirs with many others. */
const withoutLine = (item: Item): Item => ({ ...item, line: '' })

/**
 * Past orders as bytes, with what deciding asks of them and nothing else: nobody's name, e-mail or street is in them,
 * nor the channel's own identifiers of orders and lines. The orders themselves stand behind what Gharry says of them:
 * two lots of packed rows, the first with its length before it (32 bits, little-endian).
 */
export function packPast(orders: readonly PastOrder[]): Uint8Array {
  const said = packRows(orders.map(({ order: _order, ...rest }) => rest))
  const themselves = packRows(
    orders.map(({ order }): Order => {
      const kept = withoutPerson(order)
      return { ...kept, remoteId: '', changedAt: '', items: kept.items.map(withoutLine) }
    }),
  )
  const bytes = new Uint8Array(4 + said.length + themselves.length)
  new DataView(bytes.buffer).setUint32(0, said.length, true)
  bytes.set(said, 4)
  bytes.set(themselves, 4 + said.length)
  return bytes
}

/** The orders that `packPast` packed, in their order. Equal addresses, lists of items and amounts are one object. */
export function unpackPast(bytes: Uint8Array): PastOrder[] {
  const length = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(0, true)
  const orders = unpackRows<Order>(bytes.subarray(4 + length))
  return unpackRows<Omit<PastOrder, 'order'>>(bytes.subarray(4, 4 + length)).map(({ id, state, pins }, i) => ({
    id,
    state,
    order: orders[i]!,
    ...(pins ? { pins } : {}),
  }))
}
