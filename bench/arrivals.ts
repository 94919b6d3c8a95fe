import { shopRawOrder } from '@/adapters'
import { arrivalBook, type LaneArrivals } from '@/core/arrival'
import { weekday, dayOf } from '@/core/calendar'
import { normaliseOrder } from '@/core/order'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { readyWorld } from '@/core/world'
import { demoOrders } from '../demo/orders'
import { fateOf } from '../demo/past'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

/** Of the predictions that said a chance between two, how many parcels there were, and how many came (per cent). */
export interface Calibration {
  readonly said: string
  readonly predictions: number
  readonly came: number
}

interface Sent extends Omit<LaneArrivals, 'weekday' | 'came'> {
  readonly day: string
  readonly arrivesOn: string
  readonly after: number
}

const anchor = '2026-11-20'
const heldOut = '2026-10-21'
const bins = [50, 70, 80, 87.5, 92.5, 97.5, 100]

/**
 * The demo's history of 90 days, decided by its rulebook: learned from the first two months, asked about the last one.
 * Each parcel is asked for the foreseen day and the three after it.
 */
export function benchArrivals(): {
  readonly parcels: number
  readonly bins: readonly Calibration[]
  readonly microseconds: number
} {
  const ready = readyWorld(demoWorld)
  const program = compileRulebook(demoRulebook, demoWorld.rates)
  const sent: Sent[] = []
  let id = 0
  for (const raw of demoOrders('large', 2029, anchor)) {
    const day = raw.placed_at.slice(0, 10)
    const order = normaliseOrder(
      shopRawOrder(raw)!,
      'mossgill-shop',
      ready.cards,
      'Europe/Brussels',
      demoWorld.rates.home,
    )
    const { quote, location } = route(order, program, ready, { now: Date.parse(`${day}T09:00:00Z`) })
    id++
    if (!quote || !location) continue
    const { service, carrier, zone, arrivesOn, cost } = quote
    const { country } = order.shipTo
    const row = { id, remoteId: raw.id, state: 'ready', carrier, service, zone, location, country, cost, arrivesOn }
    const { deliveredAt } = fateOf(row, day, 2029, '2027-06-01')
    if (deliveredAt === null) continue
    sent.push({
      ...{ service, location, zone, country, day, arrivesOn },
      after: dayOf(deliveredAt.slice(0, 10)) - dayOf(arrivesOn),
    })
  }
  const book = arrivalBook(
    sent
      .filter(({ day }) => day < heldOut)
      .map(({ after, arrivesOn, ...way }) => ({ ...way, weekday: weekday(dayOf(arrivesOn)), came: [[after, 1]] })),
  )
  const test = sent.filter(({ day }) => day >= heldOut)
  const counts = bins.slice(1).map(() => ({ predictions: 0, came: 0 }))
  const began = performance.now()
  for (const { arrivesOn, after, ...way } of test)
    for (let spare = 0; spare < 4; spare++) {
      const by = new Date(Date.parse(arrivesOn) + spare * 86_400_000).toISOString().slice(0, 10)
      const chance = (book.chance(way, arrivesOn, by) ?? 0) / 10
      const bin = counts[bins.slice(1).findIndex((top) => chance <= top)]!
      bin.predictions++
      if (after <= spare) bin.came++
    }
  const microseconds = ((performance.now() - began) * 1000) / (test.length * 4)
  return {
    parcels: test.length,
    bins: counts.map(({ predictions, came }, i) => ({
      said: `${bins[i]} to ${bins[i + 1]} %`,
      predictions,
      came: Number(((100 * came) / Math.max(1, predictions)).toFixed(1)),
    })),
    microseconds: Number(microseconds.toFixed(1)),
  }
}
