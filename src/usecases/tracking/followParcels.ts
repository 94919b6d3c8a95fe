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
  type LabelRow,
  labelsByNumbers,
  orderRow,
  parcelsOfLabels,
  putOnBoard,
  setCarrierCursor,
  setParcelStatus,
  setShipmentState,
  type Database,
} from '@/data'
import { fetchedServices } from '@/core/world'
import { announce } from '../open/announce'
import { currentWorld } from '../shared/changeWorld'
import { onceIn } from '../shared/onceIn'
import { tellCustomer } from './notices'
import { takeReturnNews } from './returns/returnNews'
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
  told: readonly CarrierEvent[],
): Promise<void> {
  const now = gharry.now()
  // A clock that is a year ahead is wrong: what it says happened now.
  const ahead = new Date(now.getTime() + 366 * 86_400_000).toISOString()
  const events = told.map((event) => (event.at > ahead ? { ...event, at: now.toISOString() } : event))
  const labels = await labelsByNumbers(trx, carrierId, [...new Set(events.map((event) => event.trackingNumber))])
  const unknown = events.filter((event) => !labels.has(event.trackingNumber))
  const back = await takeReturnNews(gharry, trx, carrierId, unknown)
  await keepForLater(
    trx,
    carrierId,
    unknown.filter((event) => !back.has(event.trackingNumber)),
    now,
  )
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
  const moved = await takeSteps(gharry, trx, labels, known)
  if (moved.length > 0)
    await announce(
      trx,
      now,
      moved.map((data) => ({ type: 'parcel.moved', data })),
    )
  await putOnBoard(trx, labelIds(labels))
}

/** News about numbers that no label has yet. */
async function keepForLater(
  trx: Database,
  carrierId: string,
  early: readonly CarrierEvent[],
  now: Date,
): Promise<void> {
  if (early.length === 0) return
  await keepEarlyEvents(
    trx,
    early.map(({ id, trackingNumber, at, status, place, text }) => ({
      ...{ carrier: carrierId, trackingNumber, remoteId: id, at, status, place, text },
      seenAt: now.toISOString(),
    })),
  )
  await forgetEarlyEvents(trx, new Date(now.getTime() - month).toISOString())
}

type ByNumber = Awaited<ReturnType<typeof labelsByNumbers>>
const labelIds = (labels: ByNumber): number[] => [...new Set([...labels.values()].map(({ label }) => label.id))]

/**
 * Moves parcels, labels and orders along, in the order in which things happened, whatever the order in which they are
 * told; gives what moved, as the world is told.
 */
async function takeSteps(
  gharry: Application,
  trx: Database,
  labels: ByNumber,
  known: readonly CarrierEvent[],
): Promise<object[]> {
  const byTime = [...known].sort((a, b) => {
    if (a.at < b.at) return -1
    return a.at > b.at ? 1 : 0
  })
  const moved: object[] = []
  const shipments = await shipmentsOf(trx, labels, labelIds(labels))
  for (const event of byTime) {
    const { label, position } = labels.get(event.trackingNumber)!
    const shipment = shipments.get(label.id)!
    const parcel = shipment.parcels.find((own) => own.position === position)
    const next = afterNews({ status: parcel?.status ?? null, at: parcel?.at ?? null }, event)
    if (!next) continue
    if (parcel) Object.assign(parcel, next)
    await setParcelStatus(trx, label.id, position, next.status, next.at)
    const { trackingNumber, place, text } = event
    moved.push({ trackingNumber, order: { id: label.orderId }, ...next, place, text })
    await moveAlong(gharry, trx, shipment, event)
    await sayStep(gharry, trx, label, position, event)
  }
  return moved
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

/** A shipment as it is while news of it are taken in. */
interface Shipment {
  readonly id: number
  readonly orderId: number
  readonly state: string
  /** The buyer fetches it. */
  readonly fetched: boolean
  status: string | null
  dispatchedAt: string | null
  readonly parcels: { readonly position: number; status: string | null; at: string | null }[]
}

/** The shipments that news are about, read once for all of them. */
async function shipmentsOf(
  trx: Database,
  labels: ReadonlyMap<string, { readonly label: LabelRow }>,
  ids: readonly number[],
): Promise<Map<number, Shipment>> {
  const parcels = await parcelsOfLabels(trx, ids)
  const fetched = new Set(fetchedServices((await onceIn(trx, 'world', () => currentWorld(trx))).world))
  const shipments = new Map<number, Shipment>()
  for (const { label } of labels.values()) {
    const own = parcels.get(label.id) ?? []
    shipments.set(label.id, {
      ...{ id: label.id, orderId: label.orderId, state: label.state, status: label.status },
      ...{ dispatchedAt: label.dispatchedAt, fetched: fetched.has(label.service) },
      parcels: own.map(({ position, status, statusAt }) => ({ position, status, at: statusAt ?? null })),
    })
  }
  return shipments
}

/** A shipment is where its last parcel is: it is delivered when all of them are. */
async function moveAlong(gharry: Application, trx: Database, shipment: Shipment, event: CarrierEvent): Promise<void> {
  if (shipment.status === 'delivered' && event.status !== 'returned') return
  const status = hindmost(
    shipment.parcels.length > 0 ? shipment.parcels.map((parcel) => parcel.status) : [event.status],
  )
  const delivered = status === 'delivered'
  // What waits at one's own counter has not left it.
  const waits = shipment.fetched && status === 'waiting to be fetched'
  const leaves = status !== 'announced' && !waits && !shipment.dispatchedAt
  if (status !== shipment.status || delivered || leaves)
    await changeLabel(trx, shipment.id, {
      status,
      ...(delivered ? { deliveredAt: event.at } : {}),
      ...(leaves ? { dispatchedAt: event.at } : {}),
    })
  shipment.status = status
  if (leaves) shipment.dispatchedAt = event.at
  if (!leaves && !delivered) return
  const order = await orderRow(trx, shipment.orderId)
  if (!order) return
  if (leaves) await tellTheWorld(gharry, trx, 'dispatched', [{ label: shipment.id, order }])
  if (shipment.state === 'bought' && (order.state === 'labelled' || order.state === 'dispatched')) {
    if (delivered) await setShipmentState(trx, [order.id], 'delivered')
    else if (order.state === 'labelled') await setShipmentState(trx, [order.id], 'dispatched')
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
