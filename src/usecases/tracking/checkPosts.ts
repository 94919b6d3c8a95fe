import type { ChannelClient } from '@/adapters'
import { cleanTrackingNumber } from '@/core/tracking'
import {
  channelById,
  labelById,
  notePostChecked,
  ordersById,
  ordersToCheck,
  parcelsOfLabels,
  postsOfOrder,
  type PostRow,
} from '@/data'
import { linesFor } from '../dispatch/parcelItems'
import type { Application } from '../shared/application'

/** A channel has this long to show what it took; what it could not be asked for two days is left. */
const waitsMs = 60_000
const oldestMs = 2 * 86_400_000
const atOnce = 40

type Shown = Extract<Awaited<ReturnType<NonNullable<ChannelClient['despatches']>>>, { ok: true }>['body'][number]

const plain = (number: string): string => cleanTrackingNumber(number) ?? number
const linesText = (lines: Shown['lines']): string =>
  lines
    .map(({ line, quantity }) => `${quantity} of line ${line}`)
    .sort()
    .join(', ')

/** Reads back what channels show of orders that they were told about, and writes down what differs. */
export async function checkPosts(gharry: Application): Promise<void> {
  const now = gharry.now().getTime()
  const moment = (ago: number): string => new Date(now - ago).toISOString()
  for (const { orderId, channelId } of await ordersToCheck(gharry.db, moment(oldestMs), moment(waitsMs), atOnce)) {
    if (gharry.stopping?.()) return
    await checkOrder(gharry, orderId, channelId)
  }
}

async function checkOrder(gharry: Application, orderId: number, channelId: string): Promise<void> {
  const { db } = gharry
  const [stored] = await ordersById(db, [orderId])
  const channel = await channelById(db, channelId)
  const posts = (await postsOfOrder(db, orderId)).filter((post) => post.orderId === orderId && post.state === 'sent')
  const client = await gharry.channel(channelId)
  const at = gharry.now().toISOString()
  if (!stored || !channel || !client.despatches)
    return notePostChecked(
      db,
      posts.map(({ id }) => id),
      at,
      null,
    )
  const result = await client.despatches(stored.order.remoteId)
  // Asked again with the next round, as long as it is new.
  if (!result.ok) return
  const withdrawn = new Set(
    posts.filter(({ kind }) => kind === 'withdraw').map(({ labelId, parcel }) => `${labelId} ${parcel}`),
  )
  for (const post of posts) {
    if (post.kind === 'fulfil' && withdrawn.has(`${post.labelId} ${post.parcel}`)) {
      await notePostChecked(db, [post.id], at, null)
      continue
    }
    const told = await toldIn(gharry, post)
    await notePostChecked(db, [post.id], at, told && differs(post, told, result.body, channel.name))
  }
}

interface Told {
  readonly number: string
  readonly lines: Shown['lines']
}

/** What a post said; null when its parcel is not in the books any more. */
async function toldIn({ db }: Application, post: PostRow): Promise<Told | null> {
  const label = await labelById(db, post.labelId)
  const parcel = (await parcelsOfLabels(db, [post.labelId]))
    .get(post.labelId)
    ?.find(({ position }) => position === post.parcel)
  const [shipment] = label ? await ordersById(db, [label.orderId]) : []
  if (!label || !parcel || !shipment) return null
  return {
    number: plain(parcel.trackingNumber ?? ''),
    lines: linesFor(post.orderId, label.orderId, shipment.order, parcel),
  }
}

/** What a channel shows otherwise than it was told, in a sentence; null when it shows the same. */
function differs(post: PostRow, { number, lines }: Told, shown: readonly Shown[], channel: string): string | null {
  const found = shown.filter((despatch) => plain(despatch.trackingNumber) === number)
  if (post.kind === 'withdraw')
    return found.length > 0 ? `${channel} still shows ${number}, which was taken back.` : null
  const [one] = found
  if (!one) return `${channel} does not show ${number}, although it took it.`
  return linesText(one.lines) === linesText(lines)
    ? null
    : `${channel} shows ${linesText(one.lines)} under ${number}; it was told ${linesText(lines)}.`
}
