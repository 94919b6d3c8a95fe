import type { BoughtLabel, CallFailure, LabelRequest } from '@/adapters'
import { cleanTrackingNumber } from '@/core/tracking'
import { formatMoney, money, toHome } from '@/core/units'
import { addLedger, addNotices, addPosts, channelById, fromJson, membersOf, moveLabel, numberParcels, orderRow, orderRows, ordersById, parcelsOfLabels, putBack, setShipmentState, writeLog, type Database, type LabelRow, type OrderRow } from '@/data'
import type { Gharry } from './gharry'
import { linesFor } from './parcelItems'
import { routeAgain } from './routeOrders'
import { rulebookInForce } from './rulebookInForce'

/** Buys one queued label that the worker holds the lease of. The same key goes out at every try, so it is bought once. */
export async function buyLabel(gharry: Gharry, label: LabelRow): Promise<void> {
  const carrier = gharry.carrier(label.carrier)
  if (!carrier) return fail(gharry, label, `The carrier "${label.carrier}" has no connection.`)
  const result = await carrier.buy(fromJson<LabelRequest>(label.request), label.key)
  if (!result.ok) return result.kind === 'refused' ? fail(gharry, label, result.sentence) : tryLater(gharry, label, result)
  const parcels = result.body.parcels.map((parcel) => ({ ...parcel, trackingNumber: cleanTrackingNumber(parcel.trackingNumber) ?? '', ...(parcel.returnNumber ? { returnNumber: cleanTrackingNumber(parcel.returnNumber) ?? '' } : {}) }))
  const request = fromJson<LabelRequest>(label.request)
  const wanted = request.parcels.length
  if (parcels.length !== wanted || parcels.some((parcel) => parcel.trackingNumber === '' || (request.returnLabel && !parcel.returnNumber))) return tryLater(gharry, label, { ok: false, kind: 'garbled answer', sentence: `It gave tracking numbers that make no sense for ${wanted} ${wanted === 1 ? 'parcel' : 'parcels'}.`, retryAfter: 60 })
  const inForce = await rulebookInForce(gharry)
  // What was quoted had a rate, so this one has; should it have gone meanwhile, the quoted amount stands until the invoice comes.
  const charged = inForce ? (toHome(result.body.charged, inForce.ready.world.rates) ?? label.quoted) : label.quoted
  await gharry.db.transaction((trx) => recordPurchase(gharry, trx, label, parcels, charged))
}

async function recordPurchase(gharry: Gharry, trx: Database, label: LabelRow, parcels: BoughtLabel['parcels'], charged: number): Promise<void> {
  const now = gharry.now().toISOString()
  const [first] = parcels
  const moved = await moveLabel(trx, label.id, ['queued'], {
    state: 'bought', tracking_number: first!.trackingNumber, symbology: first!.symbology, routing: first!.routing, charged, bought_at: now, status: 'announced', problem: null, lease_until: null,
  })
  if (!moved) return
  await numberParcels(trx, label.id, parcels)
  await setShipmentState(trx, label.order_id, 'labelled')
  await addLedger(trx, [{ label_id: label.id, kind: 'buy', at: now, day: now.slice(0, 10), carrier: label.carrier, service: label.service, zone: label.zone, amount: charged }])
  const more = charged === label.quoted ? '' : ` (${formatMoney(money(label.quoted, 'EUR'))} was quoted)`
  await writeLog(trx, [{ order: label.order_id, at: now, author: 'Gharry', sentence: `Label bought: ${parcels.map(({ trackingNumber }) => trackingNumber).join(', ')} for ${formatMoney(money(charged, 'EUR'))}${more}` }])
  const order = (await orderRow(trx, label.order_id))!
  await tellTheWorld(gharry, trx, label.id, order, 'bought')
}

type Moment = NonNullable<OrderRow['tell_when']>

/**
 * Writes the tracking posts (one for each parcel and channel order in it) and the notice of a label, in the transaction of
 * their cause: of those who are told at this moment, as a rule or a hand pin says, else as the channel is set.
 */
export async function tellTheWorld(gharry: Gharry, trx: Database, label: number, order: OrderRow, moment: Moment): Promise<void> {
  const now = gharry.now()
  const members = await orderRows(trx, await membersOf(trx, order.id))
  const parcels = (await parcelsOfLabels(trx, [label])).get(label) ?? []
  const [shipment] = await ordersById(trx, [order.id])
  for (const told of members.length > 0 ? members : [order]) {
    const channel = await channelById(trx, told.channel_id)
    if (channel?.kind !== 'shop' || (order.tell_when ?? channel.tell_when) !== moment) continue
    const inside = parcels.filter((parcel) => !shipment || linesFor(told.id, order.id, shipment.order, parcel).length > 0)
    await addPosts(trx, inside.map(({ position }) => ({ kind: 'fulfil', order_id: told.id, label_id: label, parcel: position, channel_id: told.channel_id, key: postKey('fulfil', label, position, told.id === order.id ? null : told.id) })), now.toISOString())
  }
  const own = order.tell_when ?? (await channelById(trx, order.channel_id))?.tell_when
  if (order.email && order.notice && own === moment) await addNotices(trx, [{ order_id: order.id, label_id: label, recipient: order.email, key: `notice-${label}` }], new Date(now.getTime() + gharry.settings.noticeWaitSeconds * 1000).toISOString(), now.toISOString())
}

/** The key under which a channel knows a post; `member` is the order of a shipment of several. */
export const postKey = (kind: 'fulfil' | 'withdraw', label: number, parcel: number, member: number | null): string => `${kind}-${label}${parcel === 1 && member === null ? '' : `-${parcel}`}${member === null ? '' : `-${member}`}`

/** It may have been bought without our hearing of it, so the label stays queued under its key until the carrier answers. */
async function tryLater(gharry: Gharry, label: LabelRow, failure: CallFailure): Promise<void> {
  gharry.log.warn({ label: label.id, carrier: label.carrier, kind: failure.kind }, 'label not bought yet')
  await putBack(gharry.db, 'labels', label.id, label.attempts, gharry.now(), `${failure.sentence} It is asked again with the same key, so nothing is bought twice.`, failure.retryAfter)
}

async function fail(gharry: Gharry, label: LabelRow, sentence: string): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  await gharry.db.transaction(async (trx) => {
    if (!(await moveLabel(trx, label.id, ['queued'], { state: 'failed', problem: sentence, lease_until: null }))) return
    await setShipmentState(trx, label.order_id, 'attention')
    if (inForce) await routeAgain(gharry, trx, [label.order_id], inForce)
    // What the carrier said matters more than what the rules think of the order.
    await trx('orders').where({ id: label.order_id }).update({ state: 'attention', rank: 0, problem: `The carrier refused the label: ${sentence}` })
    await writeLog(trx, [{ order: label.order_id, at: gharry.now().toISOString(), author: 'Gharry', sentence: `The carrier refused the label: ${sentence}` }])
  })
}

