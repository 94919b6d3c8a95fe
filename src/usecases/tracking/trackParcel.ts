import { RateLimiterMemory } from 'rate-limiter-flexible'
import {
  eventsOf,
  labelByToken,
  labelsOfOrder,
  newestWorld,
  orderRow,
  parcelsOfLabels,
  shipmentOf,
  type LabelRow,
  orderOfBuyer,
} from '@/data'
import type { TrackingStatus } from '@/core/tracking'
import { refuse, type Answer, type Application } from '../shared/application'

/** What a customer sees: one parcel, and nothing about anybody else. */
export interface ParcelView {
  readonly seller: string
  /** Where a customer may write; empty where the seller says none. */
  readonly sellerMail: string
  readonly orderNumber: string
  readonly carrierName: string
  readonly trackingNumber: string
  readonly status: TrackingStatus
  readonly arrivesOn: string
  readonly deliveredAt: string | null
  readonly events: readonly {
    readonly at: string
    readonly status: string
    readonly place: string
    readonly text: string
  }[]
}

// A link in a mail is read by many; some weeks after the parcel came, it leads nowhere.
const keptFor = 6 * 7 * 86_400_000

const isOver = ({ deliveredAt: delivered, boughtAt: bought }: LabelRow, now: number): boolean =>
  now - Date.parse(delivered ?? bought ?? '') > (delivered ? keptFor : 4 * keptFor)

/** By the unguessable link of the mail. */
export async function trackByLink(gharry: Application, token: string): Promise<ParcelView | null> {
  if (!/^[\w-]{20,64}$/.test(token)) return null
  const label = await labelByToken(gharry.db, token)
  return label && !isOver(label, gharry.now().getTime()) ? view(gharry, label) : null
}

/**
 * The address that the outermost of one's own proxies saw; what anybody else wrote before it is not believed. Without
 * a proxy it is not known.
 */
export function addressBehind(forwarded: string | null, proxies: number): string {
  const addresses = (forwarded ?? '')
    .split(',')
    .map((address) => address.trim())
    .filter(Boolean)
  return proxies === 0 ? '' : (addresses[addresses.length - proxies] ?? '').slice(0, 60)
}

/** Wrong tries of a kind in ten minutes: from one address, for one order number, and from everybody together. */
const wrongTries = {
  address: new RateLimiterMemory({ keyPrefix: 'address', points: 10, duration: 600 }),
  order: new RateLimiterMemory({ keyPrefix: 'order', points: 10, duration: 600 }),
  all: new RateLimiterMemory({ keyPrefix: 'all', points: 2000, duration: 600 }),
}

/**
 * By order number and e-mail together. A wrong pair says the same whether the order exists or not. Wrong tries are
 * limited from one address, for one order number, and in all: then the door stays shut for a while.
 */
export async function findByOrder(
  gharry: Application,
  number: string,
  email: string,
  from: string,
): Promise<Answer<{ token: string }>> {
  const now = gharry.now().getTime()
  const doors = [
    { tries: wrongTries.order, key: number.trim().toLowerCase() },
    { tries: wrongTries.all, key: '' },
    ...(from === '' ? [] : [{ tries: wrongTries.address, key: from }]),
  ]
  const known = await Promise.all(doors.map(({ tries, key }) => tries.get(key)))
  if (known.some((tried) => tried !== null && tried.remainingPoints <= 0))
    return refuse('too-many-tries', 'Too many tries. Please wait ten minutes, or use the link in your mail.')
  const order = await orderOfBuyer(gharry.db, number.trim(), email.trim().toLowerCase())
  const label =
    order !== undefined &&
    (await labelsOfOrder(gharry.db, (await shipmentOf(gharry.db, order)) ?? order))
      .reverse()
      .find((candidate) => candidate.state === 'bought' && !isOver(candidate, now))
  if (label) return { ok: true, token: label.token }
  await Promise.all(doors.map(({ tries, key }) => tries.penalty(key)))
  return refuse(
    'not-found',
    'We cannot find a parcel for this order number and e-mail address. Check both, or use the link in your mail.',
  )
}

async function view(gharry: Application, label: LabelRow): Promise<ParcelView | null> {
  const order = await orderRow(gharry.db, label.orderId)
  if (!order || !label.trackingNumber || label.state === 'voided' || label.state === 'voiding') return null
  const world = (await newestWorld(gharry.db))?.world
  const parcels = await parcelsOfLabels(gharry.db, [label.id])
  return {
    seller: world?.seller?.name ?? '',
    sellerMail: world?.seller?.mail ?? '',
    orderNumber: order.number,
    carrierName: world?.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
    trackingNumber:
      (parcels.get(label.id) ?? []).flatMap((parcel) => parcel.trackingNumber ?? []).join(', ') || label.trackingNumber,
    status: (label.status ?? 'announced') as TrackingStatus,
    arrivesOn: label.arrivesOn ?? '',
    deliveredAt: label.deliveredAt,
    events: (await eventsOf(gharry.db, label.id)).map(({ at, status, place, text }) => ({ at, status, place, text })),
  }
}
