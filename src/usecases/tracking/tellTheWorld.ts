import {
  addNotices,
  addPosts,
  channelById,
  membersOf,
  orderRows,
  ordersById,
  parcelsOfLabels,
  type Database,
  type OrderRow,
} from '@/data'
import type { Application } from '../shared/application'
import { linesFor } from '../dispatch/parcelItems'

type Moment = NonNullable<OrderRow['tell_when']>

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
  const members = await orderRows(trx, await membersOf(trx, order.id))
  const parcels = (await parcelsOfLabels(trx, [label])).get(label) ?? []
  const [shipment] = await ordersById(trx, [order.id])
  for (const told of members.length > 0 ? members : [order]) {
    const channel = await channelById(trx, told.channel_id)
    if (channel?.kind !== 'shop' || (order.tell_when ?? channel.tell_when) !== moment) continue
    const inside = parcels.filter(
      (parcel) => !shipment || linesFor(told.id, order.id, shipment.order, parcel).length > 0,
    )
    await addPosts(
      trx,
      inside.map(({ position }) => ({
        kind: 'fulfil',
        order_id: told.id,
        label_id: label,
        parcel: position,
        channel_id: told.channel_id,
        key: postKey('fulfil', label, position, told.id === order.id ? null : told.id),
      })),
      now.toISOString(),
    )
  }
  const own = order.tell_when ?? (await channelById(trx, order.channel_id))?.tell_when
  if (order.email && order.notice && own === moment)
    await addNotices(
      trx,
      [{ order_id: order.id, label_id: label, recipient: order.email, key: `notice-${label}` }],
      new Date(now.getTime() + gharry.settings.noticeWaitSeconds * 1000).toISOString(),
      now.toISOString(),
    )
}

/** The key under which a channel knows a post; `member` is the order of a shipment of several. */
export const postKey = (kind: 'fulfil' | 'withdraw', label: number, parcel: number, member: number | null): string =>
  `${kind}-${label}${parcel === 1 && member === null ? '' : `-${parcel}`}${member === null ? '' : `-${member}`}`
