import { eventsOf, labelByToken, labelsOfOrder, newestWorld, orderRow, parcelsOfLabels, shipmentOf, type LabelRow } from '@/data'
import type { TrackingStatus } from '@/core/tracking'
import { refuse, type Answer, type Gharry } from './gharry'

/** What a customer sees: one parcel, and nothing about anybody else. */
export interface ParcelView {
  readonly orderNumber: string
  readonly carrierName: string
  readonly trackingNumber: string
  readonly status: TrackingStatus
  readonly arrivesOn: string
  readonly deliveredAt: string | null
  readonly events: readonly { readonly at: string; readonly status: string; readonly place: string; readonly text: string }[]
}

/** By the unguessable link of the mail. */
export async function trackByLink(gharry: Gharry, token: string): Promise<ParcelView | null> {
  if (!/^[\w-]{20,64}$/.test(token)) return null
  const label = await labelByToken(gharry.db, token)
  return label ? view(gharry, label) : null
}

const tries = new Map<string, { count: number; until: number }>()

/**
 * By order number and e-mail together. A wrong pair says the same whether the order exists or not, and after ten wrong
 * tries in ten minutes from one address the door stays shut for a while.
 */
export async function findByOrder(gharry: Gharry, number: string, email: string, from: string): Promise<Answer<{ token: string }>> {
  const now = gharry.now().getTime()
  const tried = tries.get(from)
  if (tried && tried.until > now && tried.count >= 10) return refuse('too-many-tries', 'Too many tries. Please wait ten minutes, or use the link in your mail.')
  const order: { id: number } | undefined = await gharry.db('orders').where({ number: number.trim(), email: email.trim().toLowerCase() }).whereNot({ email: '' }).first('id')
  const label = order && (await labelsOfOrder(gharry.db, (await shipmentOf(gharry.db, order.id)) ?? order.id)).reverse().find((candidate) => candidate.state === 'bought')
  if (label) return { ok: true, token: label.token }
  if (tries.size > 10_000) tries.clear()
  tries.set(from, { count: tried && tried.until > now ? tried.count + 1 : 1, until: now + 600_000 })
  return refuse('not-found', 'We cannot find a parcel for this order number and e-mail address. Check both, or use the link in your mail.')
}

async function view(gharry: Gharry, label: LabelRow): Promise<ParcelView | null> {
  const order = await orderRow(gharry.db, label.order_id)
  if (!order || !label.tracking_number || label.state === 'voided' || label.state === 'voiding') return null
  const world = (await newestWorld(gharry.db))?.world
  const parcels = await parcelsOfLabels(gharry.db, [label.id])
  return {
    orderNumber: order.number, carrierName: world?.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier, trackingNumber: (parcels.get(label.id) ?? []).flatMap((parcel) => parcel.tracking_number ?? []).join(', ') || label.tracking_number,
    status: (label.status ?? 'announced') as TrackingStatus, arrivesOn: label.arrives_on ?? '', deliveredAt: label.delivered_at,
    events: (await eventsOf(gharry.db, label.id)).map(({ at, status, place, text }) => ({ at, status, place, text })),
  }
}
