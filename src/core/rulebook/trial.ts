import type { Order } from '@/core/order'
import { decisionKinds, type DecisionId } from './catalogue'
import type { Pins, Routed } from './decisions'

/** One real order of a trial, with the moment it is decided for. */
export interface TrialCase {
  readonly id: number
  readonly order: Order
  readonly now: number
  readonly pins?: Pins
}

/** What of an outcome a trial compares and shows. */
export interface Outcome {
  readonly service: string | null
  readonly cost: number | null
  readonly arrivesOn: string | null
  /** Whether it arrives after the promised day. */
  readonly late: boolean
  readonly state: 'attention' | 'held' | 'ready'
}

/** One order that the draft decides differently. Costs in minor units of the home currency. */
export interface TrialChange {
  readonly id: number
  readonly number: string
  readonly channel: string
  readonly country: string
  /** The decisions that differ; `parcel` and `service` when only what follows from them does. */
  readonly decisions: readonly (DecisionId | 'parcel' | 'quote')[]
  readonly before: Outcome
  readonly after: Outcome
}

export const outcomeOf = (routed: Routed): Outcome => ({
  service: routed.quote?.service ?? null, cost: routed.quote?.cost ?? null, arrivesOn: routed.quote?.arrivesOn ?? null, late: (routed.daysLate ?? 0) > 0,
  state: routed.problems.length > 0 ? 'attention' : routed.decisions.hold !== null ? 'held' : 'ready',
})

/** What differs between two decisions for the same order; null when nothing does. */
export function changeBetween(trialCase: TrialCase, before: Routed, after: Routed): TrialChange | null {
  const decisions: TrialChange['decisions'][number][] = decisionKinds.filter((kind) => !same(before.decisions[kind.id], after.decisions[kind.id])).map((kind) => kind.id)
  if (before.parcel?.preset !== after.parcel?.preset || before.parcel?.weight !== after.parcel?.weight) decisions.push('parcel')
  const [a, b] = [outcomeOf(before), outcomeOf(after)]
  if (!same(a, b)) decisions.push('quote')
  if (decisions.length === 0) return null
  const { order } = trialCase
  return { id: trialCase.id, number: order.number, channel: order.channel, country: order.shipTo.country, decisions, before: a, after: b }
}

const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b)

export interface TrialSummary {
  readonly orders: number
  readonly changed: number
  /** Orders by the decision that differs. */
  readonly byDecision: Readonly<Record<string, number>>
  readonly serviceChanges: number
  /** Cost after minus cost before, over orders that have a service both times. */
  readonly costDifference: number
  readonly newlyLate: number
  readonly noLongerLate: number
  readonly newlyStuck: number
  readonly noLongerStuck: number
  /** Where orders went from and to, the most first. */
  readonly moves: readonly { readonly from: string | null; readonly to: string | null; readonly count: number; readonly cost: number }[]
  readonly byCountry: Readonly<Record<string, { readonly count: number; readonly cost: number }>>
}

/** Sums up the changes of a trial over `orders` orders. */
export function summariseTrial(changes: readonly TrialChange[], orders: number): TrialSummary {
  const byDecision: Record<string, number> = {}
  const moves = new Map<string, { from: string | null; to: string | null; count: number; cost: number }>()
  const byCountry: Record<string, { count: number; cost: number }> = {}
  let costDifference = 0
  const count = { serviceChanges: 0, newlyLate: 0, noLongerLate: 0, newlyStuck: 0, noLongerStuck: 0 }
  for (const { before, after, decisions, country } of changes) {
    for (const decision of decisions) byDecision[decision] = (byDecision[decision] ?? 0) + 1
    const cost = before.cost !== null && after.cost !== null ? after.cost - before.cost : 0
    costDifference += cost
    const place = (byCountry[country] ??= { count: 0, cost: 0 })
    place.count++
    place.cost += cost
    if (before.service !== after.service) {
      count.serviceChanges++
      const key = `${before.service ?? ''} > ${after.service ?? ''}`
      const move = moves.get(key) ?? { from: before.service, to: after.service, count: 0, cost: 0 }
      move.count++
      move.cost += cost
      moves.set(key, move)
    }
    if (after.late && !before.late) count.newlyLate++
    if (before.late && !after.late) count.noLongerLate++
    if (after.state === 'attention' && before.state !== 'attention') count.newlyStuck++
    if (before.state === 'attention' && after.state !== 'attention') count.noLongerStuck++
  }
  return { orders, changed: changes.length, byDecision, costDifference, ...count, byCountry, moves: [...moves.values()].sort((a, b) => b.count - a.count) }
}
