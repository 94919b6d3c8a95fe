import { readNumber } from '@/core/tracking'
import { usualSeller } from '@/core/world'
import { currentWorld } from '../shared/changeWorld'
import {
  changeHeld,
  channelById,
  handBack,
  labelById,
  orderRow,
  ordersById,
  parcelsOfLabels,
  type NoticeRow,
  type PostRow,
} from '@/data'
import type { Application } from '../shared/application'
import { settleMessage } from '../shared/settleMessage'
import { noticeMail } from './noticeMail'
import { linesFor } from '../dispatch/parcelItems'
import { rulebookInForce } from '../shared/rulebookInForce'

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

/** What is wrong with a number for its carrier, as the channel would find hours later; null when nothing is. */
async function againstNumber({ db }: Application, carrier: string, number: string): Promise<string | null> {
  const { carriers } = (await currentWorld(db)).world
  const own = carriers.find(({ id }) => id === carrier)
  const read = own ? readNumber(number, own, carriers) : null
  return read === null || read.ok ? null : read.sentence
}

/** Sends one notice to a customer, unless its label was voided before. */
export async function deliverNotice(gharry: Application, notice: NoticeRow): Promise<void> {
  const { db } = gharry
  const label = await labelById(db, notice.labelId)
  const order = await orderRow(db, notice.orderId)
  if (label?.state === 'voiding') return handBack(db, 'notices', notice, gharry.now(), 2)
  if (!label || !order || label.state !== 'bought')
    return changeHeld(db, 'notices', notice, {
      state: 'dropped',
      problem: 'The label was voided first.',
      leaseUntil: null,
    })
  const { seller = usualSeller } = (await currentWorld(db)).world
  if (seller.mail === '')
    return changeHeld(db, 'notices', notice, {
      state: 'failed',
      problem: 'Say in Set-up, Seller, from which address letters come; then try again.',
      leaseUntil: null,
    })
  const { carrierName, trackingUrl } = await carrierAndLink(gharry, label)
  const numbers = ((await parcelsOfLabels(db, [label.id])).get(label.id) ?? []).map(
    (parcel) => parcel.trackingNumber ?? '',
  )
  const result = await gharry.mail.send({
    from: { name: seller.name, address: seller.mail },
    to: notice.recipient,
    key: notice.key + `-${label.token.slice(0, 8)}`,
    ...noticeMail({
      buyer: order.buyer,
      number: order.number,
      carrierName,
      trackingNumbers: numbers,
      arrivesOn: label.arrivesOn ?? '',
      url: trackingUrl,
      seller: seller.name,
    }),
  })
  await settleMessage(gharry, 'notices', notice, result, {})
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
