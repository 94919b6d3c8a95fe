import type { CarrierEvent } from '@/adapters'
import { trackingStatuses, type TrackingStatus } from '@/core/tracking'
import { addEvents, carrierCursor, changeLabel, labelById, labelsByNumbers, orderRow, parcelsOfLabels, setCarrierCursor, setParcelStatus, setShipmentState, type Database } from '@/data'
import { tellTheWorld } from './buyLabels'
import type { Gharry } from './gharry'

/** Fetches what a carrier has seen since last time, and moves labels and orders along. Gives how many events came. */
export async function followParcels(gharry: Gharry, carrierId: string): Promise<number> {
  const carrier = gharry.carrier(carrierId)
  if (!carrier) return 0
  let count = 0
  for (let page = 0; page < 50; page++) {
    const cursor = await carrierCursor(gharry.db, carrierId)
    const result = await carrier.events(cursor)
    if (!result.ok) {
      gharry.log.warn({ carrier: carrierId, kind: result.kind }, 'no tracking events')
      return count
    }
    const { events, more } = result.body
    if (events.length === 0) return count
    await gharry.db.transaction(async (trx) => {
      const labels = await labelsByNumbers(trx, carrierId, [...new Set(events.map((event) => event.trackingNumber))])
      const known = events.filter((event) => labels.has(event.trackingNumber))
      await addEvents(trx, known.map((event) => ({ label_id: labels.get(event.trackingNumber)!.label.id, remote_id: event.id, at: event.at, status: event.status, place: event.place, text: event.text })))
      for (const [number, event] of newestOf(known)) {
        const { label, position } = labels.get(number)!
        await setParcelStatus(trx, label.id, position, event.status)
        await moveAlong(gharry, trx, label.id, event)
      }
      await setCarrierCursor(trx, carrierId, result.body.cursor)
    })
    count += events.length
    if (!more || result.body.cursor === cursor) return count
  }
  return count
}

function newestOf(events: readonly CarrierEvent[]): Map<string, CarrierEvent> {
  const newest = new Map<string, CarrierEvent>()
  for (const event of events) {
    const before = newest.get(event.trackingNumber)
    if (!before || event.at >= before.at) newest.set(event.trackingNumber, event)
  }
  return newest
}

/** A shipment stands where its last parcel stands: it is delivered when all of them are. */
async function moveAlong(gharry: Gharry, trx: Database, labelId: number, event: CarrierEvent): Promise<void> {
  const label = (await labelById(trx, labelId))!
  if (label.status === 'delivered' && event.status !== 'returned') return
  const status = hindmost((await parcelsOfLabels(trx, [label.id])).get(label.id)?.map((parcel) => parcel.status) ?? [event.status])
  const delivered = status === 'delivered'
  const collected = status !== 'announced'
  await changeLabel(trx, label.id, { status, ...(delivered ? { delivered_at: event.at } : {}), ...(collected && !label.dispatched_at ? { dispatched_at: event.at } : {}) })
  const order = await orderRow(trx, label.order_id)
  if (!order) return
  if (collected && !label.dispatched_at) await tellTheWorld(gharry, trx, label.id, order, 'dispatched')
  if (label.state === 'bought' && (order.state === 'labelled' || order.state === 'dispatched')) {
    if (delivered) await setShipmentState(trx, order.id, 'delivered')
    else if (collected && order.state === 'labelled') await setShipmentState(trx, order.id, 'dispatched')
  }
}

/** The state of the parcel that is furthest behind; one that went wrong stands before all. */
function hindmost(states: readonly (string | null)[]): string {
  const wrong = states.find((state) => state === 'delivery failed' || state === 'returned')
  if (wrong) return wrong
  const rank = (state: string | null): number => Math.max(0, trackingStatuses.indexOf((state ?? 'announced') as TrackingStatus))
  return states.reduce<string>((behind, state) => (rank(state) < rank(behind) ? (state ?? 'announced') : behind), states[0] ?? 'announced')
}
