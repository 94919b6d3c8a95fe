import { channelKindOf } from '@/adapters'
import {
  addPosts,
  labelById,
  membersOf,
  orderRows,
  ordersById,
  parcelsOfLabels,
  type Database,
  type OrderRow,
  wasToldDeadNumber,
} from '@/data'
import { fetchedServices } from '@/core/world'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { onceIn } from '../shared/onceIn'
import { linesFor } from '../dispatch/parcelItems'
import { channelIn, tellCustomer } from './notices'

type Moment = NonNullable<OrderRow['tellWhen']>

/** Whether the buyer of a label fetches it. */
async function isFetched(trx: Database, label: number): Promise<boolean> {
  const services = fetchedServices((await onceIn(trx, 'world', () => currentWorld(trx))).world)
  return services.length > 0 && services.includes((await labelById(trx, label))?.service ?? '')
}

/**
 * Writes the tracking posts (one for each parcel and channel order in it) and the notice of a label, in the transaction
 * of their cause: of those who are told at this moment, as a rule or a hand pin says, else as the channel is set.
 */
export async function tellTheWorld(
  gharry: Application,
  trx: Database,
  label: number,
  order: OrderRow,
  moment: Moment,
): Promise<void> {
  const now = gharry.now()
  const fetched = await isFetched(trx, label)
  // What is fetched has left once its buyer has it; until then they hear when it is ready.
  if (fetched && moment === 'bought') return
  const members = await orderRows(trx, await membersOf(trx, order.id))
  const parcels = (await parcelsOfLabels(trx, [label])).get(label) ?? []
  const [shipment] = await ordersById(trx, [order.id])
  for (const told of members.length > 0 ? members : [order]) {
    const channel = await channelIn(trx, told.channelId)
    if (!channel || !channelKindOf(channel.kind)?.can.told) continue
    if (!fetched && (order.tellWhen ?? channel.tellWhen) !== moment) continue
    const inside = parcels.filter(
      (parcel) => !shipment || linesFor(told.id, order.id, shipment.order, parcel).length > 0,
    )
    await addPosts(
      trx,
      inside.map(({ position }) => ({
        kind: 'fulfil',
        orderId: told.id,
        labelId: label,
        parcel: position,
        channelId: told.channelId,
        key: postKey('fulfil', label, position, told.id === order.id ? null : told.id),
      })),
      now.toISOString(),
    )
  }
  if (fetched) return
  const channel = await channelIn(trx, order.channelId)
  const own = order.tellWhen ?? channel?.tellWhen
  if (own === moment) {
    const step = (await wasToldDeadNumber(trx, order.id, label)) ? 'number changed' : 'label made'
    const known = shipment && { row: order, order: shipment.order }
    await tellCustomer(gharry, trx, { orderId: order.id, labelId: label, step }, known)
  }
}

/** The key under which a channel knows a post; `member` is the order of a shipment of several. */
export const postKey = (kind: 'fulfil' | 'withdraw', label: number, parcel: number, member: number | null): string =>
  `${kind}-${label}${parcel === 1 && member === null ? '' : `-${parcel}`}${member === null ? '' : `-${member}`}`
