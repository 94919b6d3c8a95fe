import { minorUnits } from '@/core/units'
import type { Order } from '@/core/order'
import { type Case, correctedWeight, openCase, setParcels, defaults, type Routed } from '@/core/rulebook/language'
import { amountToInsure, neededOffers, shipFrom, wayBetween } from './settle'
import type { ReadyWorld } from '@/core/world'

/** What is kept of an outcome for reading facts of it: everything but the trail. */
export type Settled = Omit<Routed, 'trail'>

/**
 * An order's case as it stood behind the last stage when `settled` was decided, for reading the facts that stages
 * settle.
 */
export function settledCase(order: Order, settled: Settled, ready: ReadyWorld, now: number): Case {
  const c = openCase(order, ready, now)
  // What was decided long ago may lack decisions that came later.
  const decisions = { ...defaults, ...settled.decisions }
  c.tags = decisions.tags
  c.held = decisions.hold !== null
  c.speed = decisions.speed
  c.priority = decisions.priority
  // Whoever settled it without a problem of its own knew the weight.
  c.weight = correctedWeight(c.basket, decisions.weight, !settled.problems.some(({ code }) => code === 'no-weight'))
  setParcels(c, settled.parcels)
  const location = ready.world.locations.find(({ id }) => id === settled.location)
  if (location) shipFrom(location, c, wayBetween(location, order.shipTo, ready))
  c.residential = settled.residential
  c.signature = decisions.signature
  c.within = decisions.within
  c.needs = neededOffers(decisions, c)
  c.insured = amountToInsure(decisions.insurance, c.value, ready) ?? minorUnits(0)
  c.quote = settled.quote
  c.runnerUp = settled.runnerUp
  c.daysLate = settled.daysLate ?? undefined
  return c
}
