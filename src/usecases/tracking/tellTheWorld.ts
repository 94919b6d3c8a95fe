import { channelKindOf } from '@/adapters'
import {
  addPosts,
  labelsByIds,
  membersOfAll,
  orderRows,
  ordersById,
  parcelsOfLabels,
  type Database,
  type OrderRow,
  toldDeadNumbers,
} from '@/data'
import { fetchedServices } from '@/core/world'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { onceIn } from '../shared/onceIn'
import { linesFor } from '../dispatch/parcelItems'
import { channelIn, tellCustomers } from './notices'

type Moment = NonNullable<OrderRow['tellWhen']>

/** A label, and the order (or shipment of several) that it is for. */
export interface Shipped {
  readonly label: number
  readonly order: OrderRow
}

/**
 * Writes the tracking posts (one for each parcel and channel order in it) and the notices of labels, in the transaction
 * of their cause: of those who are told at this moment, as a rule or a hand pin says, else as the channel is set. Each
 * order is named once.
 */
export async function tellTheWorld(
  gharry: Application,
  trx: Database,
  moment: Moment,
  shipped: readonly Shipped[],
): Promise<void> {
  const ids = shipped.map(({ order }) => order.id)
  const labels = shipped.map(({ label }) => label)
  const fetched = await fetchedOf(trx, labels)
  const members = await membersOfAll(trx, ids)
  const rows = new Map((await orderRows(trx, [...members.values()].flat())).map((row) => [row.id, row]))
  const parcels = await parcelsOfLabels(trx, labels)
  const orders = new Map((await ordersById(trx, ids)).map(({ id, order }) => [id, order]))
  const posts: NewPost[] = []
  const customers: Shipped[] = []
  for (const { label, order } of shipped) {
    const isFetched = fetched.has(label)
    // What is fetched has left once its buyer has it; until then they hear when it is ready.
    if (isFetched && moment === 'bought') continue
    const own = members.get(order.id)?.flatMap((id) => rows.get(id) ?? []) ?? [order]
    const whole = orders.get(order.id)
    for (const told of own) {
      const channel = await channelIn(trx, told.channelId)
      if (!channel || !channelKindOf(channel.kind)?.can.told) continue
      if (!isFetched && (order.tellWhen ?? channel.tellWhen) !== moment) continue
      const inside = (parcels.get(label) ?? []).filter(
        (parcel) => !whole || linesFor(told.id, order.id, whole, parcel).length > 0,
      )
      posts.push(...inside.map(({ position }) => postOf(label, position, told, order.id)))
    }
    if (isFetched) continue
    if ((order.tellWhen ?? (await channelIn(trx, order.channelId))?.tellWhen) === moment)
      customers.push({ label, order })
  }
  await addPosts(trx, posts, gharry.now().toISOString())
  const told = customers.map(({ label, order }) => ({ orderId: order.id, labelId: label }))
  const dead = await toldDeadNumbers(trx, told)
  await tellCustomers(
    gharry,
    trx,
    told.map((one) => ({ ...one, step: dead.has(one.labelId) ? 'number changed' : 'label made' })),
    { rows: new Map(customers.map(({ order }) => [order.id, order])), orders },
  )
}

/** Of labels those whose buyers fetch them. */
async function fetchedOf(trx: Database, labels: readonly number[]): Promise<ReadonlySet<number>> {
  const services = fetchedServices((await onceIn(trx, 'world', () => currentWorld(trx))).world)
  const rows = services.length > 0 ? await labelsByIds(trx, labels) : []
  return new Set(rows.filter(({ service }) => services.includes(service)).map(({ id }) => id))
}

type NewPost = Parameters<typeof addPosts>[1][number]

/** What the channel of an order is told of a parcel; `shipment` is the order that the label is for. */
const postOf = (labelId: number, parcel: number, told: OrderRow, shipment: number): NewPost => ({
  ...{ kind: 'fulfil', orderId: told.id, labelId, parcel, channelId: told.channelId },
  key: postKey('fulfil', labelId, parcel, told.id === shipment ? null : told.id),
})

/** The key under which a channel knows a post; `member` is the order of a shipment of several. */
export const postKey = (kind: 'fulfil' | 'withdraw', label: number, parcel: number, member: number | null): string =>
  `${kind}-${label}${parcel === 1 && member === null ? '' : `-${parcel}`}${member === null ? '' : `-${member}`}`
