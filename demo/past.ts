import { createHash } from 'node:crypto'
import type { TrackingStatus } from '@/core/tracking'
import { depots } from '../standins/carrier/depots'
import { carrierHabits } from '../standins/carrier/habits'

/*
 * Labels of the past: bought at the routed cost, and delivered, some of them late. Those of the last days are on their
 * way, and a few are what people have to look at: late, silent, held at customs, sent back.
 */

export interface PastOrder {
  readonly id: number
  readonly remoteId: string
  readonly state: string
  readonly carrier: string
  readonly service: string
  readonly zone: string
  readonly location: string
  readonly country: string
  readonly cost: number
  readonly arrivesOn: string
}
export type PastLabel = Record<string, string | number> & {
  boughtAt: string
  charged: number
  carrier: string
  service: string
  zone: string
  key: string
}

const serialOfPast = 500_000
/** Of a hundred parcels of a carrier, so many came late. */
const lateShare: Readonly<Record<string, number>> = {
  heron: 4,
  corvid: 17,
  northlight: 3,
  skua: 9,
  bramble: 12,
  dray: 2,
}

/** The tracking number of a parcel; 1 is the first. */
export const numberOfPast = (row: PastOrder, parcel: number): string =>
  carrierHabits[row.carrier]!.number(serialOfPast + row.id * 10 + parcel, 'BE')

/** The country of each location. */
const homes: Readonly<Record<string, string>> = { ghent: 'BE', poznan: 'PL', leeds: 'GB' }

interface News {
  readonly at: string
  readonly status: TrackingStatus
  readonly place: string
  readonly text: string
}

/** What became of a parcel. */
export interface Fate {
  readonly status: TrackingStatus
  readonly deliveredAt: string | null
  readonly news: readonly News[]
  /** Whether its carrier goes on telling of it. */
  readonly goesOn: boolean
  /** It was bought, and never handed over. */
  readonly forgotten?: boolean
}

const hours = (day: string, n: number): string =>
  new Date(Date.parse(`${day}T10:00:00.000Z`) + n * 3_600_000).toISOString()
/** Of a hundred parcels that should have come in the last days, so many are late, silent or back. */
const astray: readonly (readonly [share: number, what: 'late' | 'silent' | 'returned'])[] = [
  [5, 'late'],
  [8, 'silent'],
  [10, 'returned'],
]
const daysAstray = 7
/** Of a hundred parcels of the last days, so many no carrier has scanned; two of three of them were left behind. */
const daysForgotten = 10
const forgottenShare = 4
/** Of a hundred orders of the last weeks, so many had a label before that was voided. */
const voidedShare = 2
export const daysOfVoids = 40
export const hadVoid = (row: PastOrder, seed: number): boolean =>
  createHash('sha256').update(`void ${seed} ${row.id}`).digest()[0]! % 100 < voidedShare
const daysBetween = (from: string, until: string): number => (Date.parse(until) - Date.parse(from)) / 86_400_000
/** Of what was delivered in the last days every step is known, as carriers told it. */
const daysOfNews = 30

/** What became of a parcel that was sent on a day, as it is known on the day `anchor`. */
export function fateOf(row: PastOrder, day: string, seed: number, anchor: string): Fate {
  const chance = createHash('sha256').update(`late ${seed} ${row.id}`).digest()
  const late = chance[0]! % 100 < (lateShare[row.carrier] ?? 5) ? 1 + (chance[1]! % 3) : 0
  const told = (...news: readonly (readonly [number, TrackingStatus, string, string])[]): News[] =>
    news.map(([after, status, place, text]) => ({ at: hours(day, after), status, place, text }))
  const from = depots[homes[row.location] ?? ''] ?? 'Depot of origin'
  const to = depots[row.country] ?? 'Depot of destination'
  const collected = [6, 'collected', from, 'Collected from the sender'] as const
  const onItsWay = [14, 'in transit', from === to ? 'Sorting centre' : to, 'On its way'] as const
  const open = (news: News[], goesOn = false): Fate => ({
    status: news.at(-1)!.status,
    deliveredAt: null,
    news,
    goesOn,
  })
  const unseen = { status: 'announced', deliveredAt: null, news: [], goesOn: false } as const
  if (daysBetween(day, anchor) <= daysForgotten && chance[3]! % 100 < forgottenShare)
    return { ...unseen, forgotten: chance[4]! % 3 > 0 }
  if (row.arrivesOn >= anchor) return open(told(collected, onItsWay), true)
  const days = daysBetween(row.arrivesOn, anchor)
  const [, what] = days <= daysAstray ? (astray.find(([share]) => chance[2]! % 100 < share) ?? []) : []
  const abroad = ['GB', 'CH', 'NO', 'US'].includes(row.country)
  if (what === 'late' || (days <= daysAstray && abroad && chance[2]! % 3 === 0))
    return open(
      abroad
        ? told(collected, onItsWay, [30, 'held at customs', 'Customs', 'Held at customs: an invoice is asked for'])
        : told(collected, onItsWay),
    )
  if (what === 'silent') return open(told(collected))
  if (what === 'returned')
    return open(
      told(
        collected,
        onItsWay,
        [40, 'delivery failed', to, 'Nobody was there'],
        [64, 'returned', to, 'Sent back to the sender'],
      ),
    )
  const deliveredAt = new Date(Date.parse(`${row.arrivesOn}T13:00:00.000Z`) + late * 86_400_000).toISOString()
  // What is late by its days may not have come yet.
  if (deliveredAt.slice(0, 10) >= anchor) return open(told(collected, onItsWay), true)
  const recent = days <= daysOfNews
  const way = (Date.parse(deliveredAt) - Date.parse(hours(day, 0))) / 3_600_000
  return {
    status: 'delivered',
    deliveredAt,
    news: recent
      ? [
          ...told(collected, onItsWay, [Math.max(15, way - 5), 'out for delivery', to, 'With the driver']),
          { at: deliveredAt, status: 'delivered', place: '', text: 'Delivered' },
        ]
      : [],
    goesOn: false,
  }
}

export function pastLabel(row: PastOrder, day: string, seed: number, fate: Fate): PastLabel {
  const at = `${day}T10:00:00.000Z`
  return {
    orderId: row.id,
    position: 0,
    key: `past-${row.id}-label`,
    token: createHash('sha256').update(`${seed} ${row.id}`).digest('base64url').slice(0, 24),
    state: 'bought',
    carrier: row.carrier,
    service: row.service,
    zone: row.zone,
    location: row.location,
    request: '{}',
    quoted: row.cost,
    charged: row.cost,
    trackingNumber: numberOfPast(row, 1),
    symbology: carrierHabits[row.carrier]!.symbology,
    routing: row.zone,
    madeAt: at,
    boughtAt: at,
    ...(fate.forgotten ? {} : { dispatchedAt: at }),
    shipOn: day,
    ...(fate.deliveredAt ? { deliveredAt: fate.deliveredAt } : {}),
    printedAt: at,
    status: fate.status,
    arrivesOn: row.arrivesOn,
    nextAt: at,
  }
}
