import type { CallResult } from '@/adapters'
import { changeNotice, changePost, channelById, labelById, orderRow, ordersById, parcelsOfLabels, putBack, type NoticeRow, type PostRow } from '@/data'
import type { Gharry } from './gharry'
import { noticeMail } from './noticeMail'
import { linesFor } from './parcelItems'
import { rulebookInForce } from './rulebookInForce'

const mostAttempts = 12

/** Tells a channel about one parcel (or takes it back). The key makes a repeated post the same post. */
export async function deliverPost(gharry: Gharry, post: PostRow): Promise<void> {
  const { db } = gharry
  const channel = await channelById(db, post.channel_id)
  const label = await labelById(db, post.label_id)
  const [stored] = await ordersById(db, [post.order_id])
  if (!channel || !label || !stored) return changePost(db, post.id, { state: 'failed', problem: 'The order or channel does not exist any more.', lease_until: null })
  if (post.kind === 'withdraw' && (await fulfilIsOpen(gharry, post))) return putBack(db, 'posts', post.id, 0, gharry.now(), 'Waits until the post before it has gone out.')
  const parcel = (await parcelsOfLabels(db, [label.id])).get(label.id)?.find(({ position }) => position === post.parcel)
  if (!parcel) return changePost(db, post.id, { state: 'failed', problem: 'The parcel does not exist any more.', lease_until: null })
  const shipment = label.order_id === post.order_id ? stored : (await ordersById(db, [label.order_id]))[0]
  const client = gharry.channel(channel)
  const result = post.kind === 'fulfil' ? await client.fulfil({ remoteOrder: stored.order.remoteId, lines: linesFor(post.order_id, label.order_id, (shipment ?? stored).order, parcel), trackingNumber: parcel.tracking_number ?? '', ...named(await carrierAndLink(gharry, label)) }, post.key) : await client.withdraw(stored.order.remoteId, parcel.tracking_number ?? '', post.key)
  await settle(gharry, 'posts', post, result)
}

/** Sends one notice to a customer, unless its label was voided before. */
export async function deliverNotice(gharry: Gharry, notice: NoticeRow): Promise<void> {
  const { db } = gharry
  const label = await labelById(db, notice.label_id)
  const order = await orderRow(db, notice.order_id)
  if (!label || !order || label.state !== 'bought') return changeNotice(db, notice.id, { state: 'dropped', problem: 'The label was voided first.', lease_until: null })
  const { carrierName, trackingUrl } = await carrierAndLink(gharry, label)
  const numbers = ((await parcelsOfLabels(db, [label.id])).get(label.id) ?? []).map((parcel) => parcel.tracking_number ?? '')
  const result = await gharry.mail.send({ to: notice.recipient, key: notice.key + `-${label.token.slice(0, 8)}`, ...noticeMail({ buyer: order.buyer, number: order.number, carrierName, trackingNumbers: numbers, arrivesOn: label.arrives_on ?? '', url: trackingUrl }) })
  await settle(gharry, 'notices', notice, result)
}

async function fulfilIsOpen(gharry: Gharry, post: PostRow): Promise<boolean> {
  const open: unknown = await gharry.db('posts').where({ label_id: post.label_id, order_id: post.order_id, kind: 'fulfil', state: 'queued' }).first('id')
  return open !== undefined
}

const named = ({ carrierName, trackingUrl }: { carrierName: string; trackingUrl: string }): { carrier: string; trackingUrl: string } => ({ carrier: carrierName, trackingUrl })

async function carrierAndLink(gharry: Gharry, label: { carrier: string; token: string }): Promise<{ carrierName: string; trackingUrl: string }> {
  const inForce = await rulebookInForce(gharry)
  return { carrierName: inForce?.ready.world.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier, trackingUrl: `${gharry.settings.publicUrl}/track/${label.token}` }
}

async function settle(gharry: Gharry, table: 'posts' | 'notices', row: { id: number; attempts: number }, result: CallResult<unknown>): Promise<void> {
  const change = (values: { state: 'sent' | 'failed'; problem: string | null; sent_at?: string }): Promise<void> =>
    table === 'posts' ? changePost(gharry.db, row.id, { ...values, lease_until: null }) : changeNotice(gharry.db, row.id, { ...values, lease_until: null })
  if (result.ok) return change({ state: 'sent', problem: null, sent_at: gharry.now().toISOString() })
  gharry.log.warn({ [table]: row.id, kind: result.kind }, 'not delivered')
  if (result.kind === 'refused') return change({ state: 'failed', problem: result.sentence })
  if (row.attempts + 1 >= mostAttempts) return change({ state: 'failed', problem: `${result.sentence} Given up after ${mostAttempts} tries.` })
  return putBack(gharry.db, table, row.id, row.attempts, gharry.now(), result.sentence, result.retryAfter)
}

