import type { CarrierEvent } from '@/adapters'
import { stepOfStatus } from '@/core/telling'
import { afterNews, isAstray, type TrackingStatus, trackingStatuses } from '@/core/tracking'
import {
  addEvents,
  carrierCursor,
  changeLabel,
  connectionsOfCarrier,
  forgetEarlyEvents,
  keepEarlyEvents,
  labelById,
  labelsByNumbers,
  orderRow,
  parcelsOfLabels,
  putOnBoard,
  setCarrierCursor,
  setParcelStatus,
  setShipmentState,
  type Database,
} from '@/data'
import { announce } from '../open/announce'
import { tellCustomer } from './notices'
import { tellTheWorld } from './tellTheWorld'
import type { Application } from '../shared/application'

/** Fetches what a carrier has seen since last time, and moves labels and orders along. Gives how many events came. */
export async function followParcels(gharry: Application, carrierId: string): Promise<number> {
  let count = 0
  for (const { id, on } of await connectionsOfCarrier(gharry.db, carrierId))
    if (on) count += await followAccount(gharry, carrierId, id)
  return count
}

async function followAccount(gharry: Application, carrierId: string, account: string): Promise<number> {
  const carrier = await gharry.carrier(carrierId, { account })
  if (!carrier) return 0
  let count = 0
  for (let page = 0; page < 50; page++) {
    const cursor = await carrierCursor(gharry.db, account)
    const result = await carrier.events(cursor)
    if (!result.ok) {
      gharry.log.warn({ carrier: carrierId, kind: result.kind }, 'no tracking events')
      return count
    }
    const { events, more } = result.body
    if (events.length === 0) return count
    await gharry.db.transaction(async (trx) => {
      await takeNews(gharry, trx, carrierId, events)
      await setCarrierCursor(trx, account, result.body.cursor)
    })
    count += events.length
    if (!more || result.body.cursor === cursor) return count
  }
  return count
}

const month = 30 * 86_400_000

/**
 * Takes news of a carrier's parcels into the books, in the caller's transaction. What is about a number that no label
 * has yet is kept until one has it: news may come before the purchase is written.
 */
export async function takeNews(
  gharry: Application,
  trx: Database,
  carrierId: string,
  events: readonly CarrierEvent[],
): Promise<void> {
  const now = gharry.now()
  const labels = await labelsByNumbers(trx, carrierId, [...new Set(events.map((event) => event.trackingNumber))])
  const early = events.filter((event) => !labels.has(event.trackingNumber))
  if (early.length > 0) {
    await keepEarlyEvents(
      trx,
      early.map(({ id, trackingNumber, at, status, place, text }) => ({
        carrier: carrierId,
        trackingNumber: trackingNumber,
        remoteId: id,
        at,
        status,
        place,
        text,
        seenAt: now.toISOString(),
      })),
    )
    await forgetEarlyEvents(trx, new Date(now.getTime() - month).toISOString())
  }
  const known = events.filter((event) => labels.has(event.trackingNumber))
  await addEvents(
    trx,
    known.map((event) => ({
      labelId: labels.get(event.trackingNumber)!.label.id,
      position: labels.get(event.trackingNumber)!.position,
      remoteId: event.id,
      at: event.at,
      status: event.status,
      place: event.place,
      text: event.text,
    })),
  )
  // In the order in which things happened, whatever the order in which they are told.
  const byTime = [...known].sort((a, b) => {
    if (a.at < b.at) return -1
    return a.at > b.at ? 1 : 0
  })
  const moved: object[] = []
  for (const number of new Set(byTime.map((event) => event.trackingNumber))) {
    const { label, position } = labels.get(number)!
    const parcel = (await parcelsOfLabels(trx, [label.id])).get(label.id)?.find((own) => own.position === position)
    let at: { status: string | null; at: string | null } = {
      status: parcel?.status ?? null,
      at: parcel?.statusAt ?? null,
    }
    for (const event of byTime) {
      if (event.trackingNumber !== number) continue
      const next = afterNews(at, event)
      if (!next) continue
      at = next
      await setParcelStatus(trx, label.id, position, next.status, next.at)
      moved.push({
        trackingNumber: number,
        order: { id: label.orderId },
        ...next,
        place: event.place,
        text: event.text,
      })
      await moveAlong(gharry, trx, label.id, event)
      await sayStep(gharry, trx, label, position, event)
    }
  }
  if (moved.length > 0)
    await announce(
      trx,
      now,
      moved.map((data) => ({ type: 'parcel.moved', data })),
    )
  await putOnBoard(trx, [...new Set([...labels.values()].map(({ label }) => label.id))])
}

// What is older than this when it is heard of (news of a long outage) is no news to a customer.
const stillNews = 2 * 86_400_000

/** A customer is told of the steps that the notices are set to. */
async function sayStep(
  gharry: Application,
  trx: Database,
  label: { readonly id: number; readonly orderId: number; readonly state: string },
  position: number,
  { status, at, place }: CarrierEvent,
): Promise<void> {
  const step = stepOfStatus(status)
  if (!step || label.state !== 'bought' || gharry.now().getTime() - Date.parse(at) > stillNews) return
  const day = step === 'delivered' ? at.slice(0, 10) : ''
  await tellCustomer(gharry, trx, { orderId: label.orderId, labelId: label.id, step, position, day, place })
}

/** A shipment is where its last parcel is: it is delivered when all of them are. */
async function moveAlong(gharry: Application, trx: Database, labelId: number, event: CarrierEvent): Promise<void> {
  const label = (await labelById(trx, labelId))!
  if (label.status === 'delivered' && event.status !== 'returned') return
  const status = hindmost(
    (await parcelsOfLabels(trx, [label.id])).get(label.id)?.map((parcel) => parcel.status) ?? [event.status],
  )
  const delivered = status === 'delivered'
  const collected = status !== 'announced'
  await changeLabel(trx, label.id, {
    status,
    ...(delivered ? { deliveredAt: event.at } : {}),
    ...(collected && !label.dispatchedAt ? { dispatchedAt: event.at } : {}),
  })
  const order = await orderRow(trx, label.orderId)
  if (!order) return
  if (collected && !label.dispatchedAt) await tellTheWorld(gharry, trx, label.id, order, 'dispatched')
  if (label.state === 'bought' && (order.state === 'labelled' || order.state === 'dispatched')) {
    if (delivered) await setShipmentState(trx, order.id, 'delivered')
    else if (collected && order.state === 'labelled') await setShipmentState(trx, order.id, 'dispatched')
  }
}

/** The state of the parcel that is furthest behind; one that went wrong stands before all. */
function hindmost(states: readonly (string | null)[]): string {
  const wrong = states.find(isAstray)
  if (wrong) return wrong
  const rank = (state: string | null): number =>
    Math.max(0, trackingStatuses.indexOf((state ?? 'announced') as TrackingStatus))
  return states.reduce<string>(
    (behind, state) => (rank(state) < rank(behind) ? (state ?? 'announced') : behind),
    states[0] ?? 'announced',
  )
}
