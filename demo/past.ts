import { createHash } from 'node:crypto'
import { carrierHabits } from '../standins/habits'

/* Labels of the past: bought at the routed cost, and delivered, some of them late. */

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

export function pastLabel(row: PastOrder, day: string, seed: number): PastLabel {
  const at = `${day}T10:00:00.000Z`
  const chance = createHash('sha256').update(`late ${seed} ${row.id}`).digest()
  const late = chance[0]! % 100 < (lateShare[row.carrier] ?? 5) ? 1 + (chance[1]! % 3) : 0
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
    dispatchedAt: at,
    deliveredAt: new Date(Date.parse(`${row.arrivesOn}T13:00:00.000Z`) + late * 86_400_000).toISOString(),
    printedAt: at,
    status: 'delivered',
    arrivesOn: row.arrivesOn,
    nextAt: at,
  }
}
