import { readNumber } from '@/core/tracking'
import type { Order } from '@/core/order'
import { money } from '@/core/units'
import { currentWorld } from '../shared/changeWorld'
import {
  changeHeld,
  channelById,
  handBack,
  labelById,
  ordersById,
  parcelsOfLabels,
  type PostRow,
  returnById,
} from '@/data'
import type { Application } from '../shared/application'
import { settleMessage } from '../shared/settleMessage'
import { linesFor } from '../dispatch/parcelItems'
import { rulebookInForce } from '../shared/rulebookInForce'
import { linesBack } from './returns/payBack'

/** Tells a channel about one parcel (or takes it back). The key makes a repeated post the same post. */
export async function deliverPost(gharry: Application, post: PostRow): Promise<void> {
  const { db } = gharry
  const channel = await channelById(db, post.channelId)
  const label = await labelById(db, post.labelId)
  const [stored] = await ordersById(db, [post.orderId])
  if (!channel || !label || !stored)
    return changeHeld(db, 'posts', post, {
      state: 'failed',
      problem: 'The order or channel does not exist any more.',
      leaseUntil: null,
    })
  if (post.kind === 'refund') return deliverRefund(gharry, post, channel, stored.order)
  // The carrier has not answered yet whether it takes the label back.
  if (post.kind === 'fulfil' && label.state === 'voiding') return handBack(db, 'posts', post, gharry.now(), 2)
  const parcel = (await parcelsOfLabels(db, [label.id])).get(label.id)?.find(({ position }) => position === post.parcel)
  if (!parcel)
    return changeHeld(db, 'posts', post, {
      state: 'failed',
      problem: 'The parcel does not exist any more.',
      leaseUntil: null,
    })
  const against =
    post.kind === 'fulfil' ? await againstNumber(gharry, label.carrier, parcel.trackingNumber ?? '') : null
  if (against !== null)
    return changeHeld(db, 'posts', post, {
      state: 'failed',
      problem: `${against} ${channel.name} is not told of it.`,
      leaseUntil: null,
    })
  const shipment = label.orderId === post.orderId ? stored : (await ordersById(db, [label.orderId]))[0]
  const client = await gharry.channel(channel.id)
  const result =
    post.kind === 'fulfil'
      ? await client.fulfil(
          {
            remoteOrder: stored.order.remoteId,
            lines: linesFor(post.orderId, label.orderId, (shipment ?? stored).order, parcel),
            trackingNumber: parcel.trackingNumber ?? '',
            carrierId: label.carrier,
            recipient: stored.order.shipTo.name || stored.order.shipTo.company || stored.order.buyer.name,
            ...named(await carrierAndLink(gharry, label)),
          },
          post.key,
        )
      : await client.withdraw(stored.order.remoteId, parcel.trackingNumber ?? '', post.key)
  await settleMessage(gharry, 'posts', post, result, { channelId: post.channelId })
}

/** Has a channel pay back what came back of an order. */
async function deliverRefund(
  gharry: Application,
  post: PostRow,
  channel: { readonly id: string; readonly name: string },
  own: Order,
): Promise<void> {
  const row = await returnById(gharry.db, post.returnId ?? 0)
  const [shipment] = row ? await ordersById(gharry.db, [row.orderId]) : []
  const client = await gharry.channel(channel.id)
  if (!row || !shipment || !client.refund)
    return changeHeld(gharry.db, 'posts', post, {
      state: 'failed',
      problem: `${channel.name} pays nothing back by itself (any more): pay it by hand, and say so under Tracking, Returns.`,
      leaseUntil: null,
    })
  const result = await client.refund(
    {
      ...{ remoteOrder: own.remoteId, lines: linesBack(row, post.orderId, shipment.order) },
      ...{ amount: money(post.amount ?? 0, own.value.currency), reason: row.reason || 'returned' },
    },
    post.key,
  )
  await settleMessage(gharry, 'posts', post, result, { channelId: post.channelId })
}

/** What is wrong with a number for its carrier, as the channel would find hours later; null when nothing is. */
async function againstNumber({ db }: Application, carrier: string, number: string): Promise<string | null> {
  const { carriers } = (await currentWorld(db)).world
  const own = carriers.find(({ id }) => id === carrier)
  const read = own ? readNumber(number, own, carriers) : null
  return read === null || read.ok ? null : read.sentence
}

const named = ({
  carrierName,
  trackingUrl,
}: {
  carrierName: string
  trackingUrl: string
}): { carrier: string; trackingUrl: string } => ({ carrier: carrierName, trackingUrl })

async function carrierAndLink(
  gharry: Application,
  label: { carrier: string; token: string },
): Promise<{ carrierName: string; trackingUrl: string }> {
  const inForce = await rulebookInForce(gharry)
  return {
    carrierName: inForce?.ready.world.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
    trackingUrl: `${gharry.settings.publicUrl}/track/${label.token}`,
  }
}
