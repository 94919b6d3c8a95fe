import type { MinorUnits } from '@/core/units'
import type { Order } from '@/core/order'
import {
  type DecisionId,
  decisionKinds,
  type Decisions,
  defaults,
  type Pins,
  type Routed,
} from '@/core/rulebook/language'
import type { Decided } from '@/core/rulebook/bulk'

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
  readonly carrier: string | null
  readonly cost: MinorUnits | null
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
  /** The decisions that differ; `parcel` and `quote` when only what follows from them does. */
  readonly decisions: readonly (DecisionId | 'parcel' | 'quote')[]
  readonly before: Outcome
  readonly after: Outcome
}

/** A decision that can be compared with another: of an order by itself, or of one of many. */
export type Comparable = Pick<Routed, 'decisions' | 'parcels' | 'quote' | 'daysLate'> &
  (Pick<Routed, 'problems'> | Pick<Decided, 'stuck'>)

const isStuck = (routed: Comparable): boolean => ('stuck' in routed ? routed.stuck : routed.problems.length > 0)

/** What of a decision a trial compares and shows. */
export const outcomeOf = (routed: Comparable): Outcome => ({
  service: routed.quote?.service ?? null,
  carrier: routed.quote?.carrier ?? null,
  cost: routed.quote?.cost ?? null,
  arrivesOn: routed.quote?.arrivesOn ?? null,
  late: (routed.daysLate ?? 0) > 0,
  state: stateOf(routed),
})

function stateOf(routed: Parameters<typeof isStuck>[0] & Pick<Routed, 'decisions'>): Outcome['state'] {
  if (isStuck(routed)) return 'attention'
  return routed.decisions.hold !== null ? 'held' : 'ready'
}

/** What differs between two decisions for the same order; null when nothing does. */
export function changeBetween(
  trialCase: Pick<TrialCase, 'id' | 'order'>,
  before: Comparable,
  after: Comparable,
  differing = differingIn,
): TrialChange | null {
  const decisions: TrialChange['decisions'][number][] = [...differing(before.decisions, after.decisions)]
  if (!sameParcels(before.parcels, after.parcels)) decisions.push('parcel')
  const [a, b] = [outcomeOf(before), outcomeOf(after)]
  if (!sameOutcome(a, b)) decisions.push('quote')
  if (decisions.length === 0) return null
  const { order } = trialCase
  return {
    id: trialCase.id,
    number: order.number,
    channel: order.channel,
    country: order.shipTo.country,
    decisions,
    before: a,
    after: b,
  }
}

/** The decisions that differ. */
export const differingIn = (before: Decisions, after: Decisions): readonly DecisionId[] =>
  decisionKinds.filter(({ id }) => !same(valueIn(before, id), valueIn(after, id))).map(({ id }) => id)

/** What was decided before there was such a decision stands at its default. */
const valueIn = (decisions: Decisions, id: DecisionId): unknown =>
  decisions[id] === undefined ? defaults[id] : decisions[id]

// Most decisions of most orders are the same plain value; the rest is compared as text.
const same = (a: unknown, b: unknown): boolean =>
  a === b || (typeof a === 'object' && typeof b === 'object' && JSON.stringify(a) === JSON.stringify(b))
const sameOutcome = (a: Outcome, b: Outcome): boolean =>
  a.service === b.service &&
  a.cost === b.cost &&
  a.arrivesOn === b.arrivesOn &&
  a.late === b.late &&
  a.state === b.state

const sameParcels = (a: Routed['parcels'], b: Routed['parcels']): boolean =>
  a === b ||
  (a.length === b.length &&
    a.every(
      (parcel, i) => parcel.preset === b[i]!.preset && parcel.weight === b[i]!.weight && parcel.volume === b[i]!.volume,
    ))

/** Orders and money of one carrier, service, channel or country, by the edition in force and by the draft. */
export interface Sides {
  ordersBefore: number
  ordersAfter: number
  costBefore: number
  costAfter: number
  lateBefore: number
  lateAfter: number
}

export const trialGroups = ['carrier', 'service', 'channel', 'country'] as const
export type TrialGroup = (typeof trialGroups)[number]

/** Where orders went from and to; null stands for no service. */
export interface Move {
  readonly from: string | null
  readonly to: string | null
  count: number
  cost: number
}

/** What a trial adds up to; a plain object that can be kept and gone on with. */
export interface TrialSummary {
  orders: number
  changed: number
  /** Orders by the decision that differs. */
  readonly byDecision: Record<string, number>
  serviceChanges: number
  /** Cost after minus cost before, over orders that have a service both times. */
  costDifference: number
  newlyLate: number
  noLongerLate: number
  newlyStuck: number
  noLongerStuck: number
  readonly moves: Record<string, Move>
  readonly groups: Readonly<Record<TrialGroup, Record<string, Sides>>>
  /** By how much each line of cost moves, over orders that have a service both times. */
  readonly lines: Record<string, number>
}

/** A summary of no orders, to be added to. */
export const emptySummary = (): TrialSummary => ({
  orders: 0,
  changed: 0,
  byDecision: {},
  serviceChanges: 0,
  costDifference: 0,
  newlyLate: 0,
  noLongerLate: 0,
  newlyStuck: 0,
  noLongerStuck: 0,
  moves: {},
  groups: { carrier: {}, service: {}, channel: {}, country: {} },
  lines: {},
})

/** Adds what another summary counted, of other orders. */
export function addSummary(summary: TrialSummary, more: TrialSummary): void {
  addCounts(summary as unknown as Counts, more as unknown as Counts)
}

interface Counts {
  [name: string]: number | string | null | Counts
}

/** Adds up all numbers under the same names; what is no number stays. */
function addCounts(into: Counts, more: Counts): void {
  for (const [name, value] of Object.entries(more)) {
    const own = into[name]
    if (typeof value === 'object' && value !== null) addCounts((into[name] = (own ?? {}) as Counts), value)
    else into[name] = typeof value === 'number' && typeof own === 'number' ? own + value : (own ?? value)
  }
}

/** Adds one order to a summary; gives what changes for it, null when nothing does. */
export function tally(
  summary: TrialSummary,
  trialCase: Pick<TrialCase, 'id' | 'order'>,
  before: Comparable,
  after: Comparable,
  differing = differingIn,
): TrialChange | null {
  summary.orders++
  const { channel, shipTo } = trialCase.order
  addSides(summary.groups.channel, channel, channel, before, after)
  addSides(summary.groups.country, shipTo.country, shipTo.country, before, after)
  addSides(summary.groups.service, before.quote?.service, after.quote?.service, before, after)
  addSides(summary.groups.carrier, before.quote?.carrier, after.quote?.carrier, before, after)
  // Where nothing that differs was met, both are the same object.
  const change = before === after ? null : changeBetween(trialCase, before, after, differing)
  if (change) addChange(summary, change)
  if (change && before.quote && after.quote) {
    for (const { what, minor } of before.quote.lines) summary.lines[what] = (summary.lines[what] ?? 0) - minor
    for (const { what, minor } of after.quote.lines) summary.lines[what] = (summary.lines[what] ?? 0) + minor
  }
  return change
}

function addSides(
  groups: Record<string, Sides>,
  keyBefore = '',
  keyAfter = '',
  before: Comparable,
  after: Comparable,
): void {
  const a = (groups[keyBefore] ??= noSides())
  a.ordersBefore++
  a.costBefore += before.quote?.cost ?? 0
  if ((before.daysLate ?? 0) > 0) a.lateBefore++
  const b = (groups[keyAfter] ??= noSides())
  b.ordersAfter++
  b.costAfter += after.quote?.cost ?? 0
  if ((after.daysLate ?? 0) > 0) b.lateAfter++
}

const noSides = (): Sides => ({
  ordersBefore: 0,
  ordersAfter: 0,
  costBefore: 0,
  costAfter: 0,
  lateBefore: 0,
  lateAfter: 0,
})

function addChange(summary: TrialSummary, { before, after, decisions }: TrialChange): void {
  summary.changed++
  for (const decision of decisions) summary.byDecision[decision] = (summary.byDecision[decision] ?? 0) + 1
  const cost = before.cost !== null && after.cost !== null ? after.cost - before.cost : 0
  summary.costDifference += cost
  if (before.service !== after.service) {
    summary.serviceChanges++
    const move = (summary.moves[`${before.service ?? ''} > ${after.service ?? ''}`] ??= {
      from: before.service,
      to: after.service,
      count: 0,
      cost: 0,
    })
    move.count++
    move.cost += cost
  }
  if (after.late && !before.late) summary.newlyLate++
  if (before.late && !after.late) summary.noLongerLate++
  if (after.state === 'attention' && before.state !== 'attention') summary.newlyStuck++
  if (before.state === 'attention' && after.state !== 'attention') summary.noLongerStuck++
}

/** The moves of a summary, the most orders first. */
export const movesOf = (summary: TrialSummary): Move[] => Object.values(summary.moves).sort((a, b) => b.count - a.count)

const millisecondsPerWeek = 604_800_000

/**
 * A case as if it had come in around another day: moved by whole weeks, so that weekdays stay, with all its times, so
 * that rules with dates and seasons are met. `asOf` and `today` are instants.
 */
export function movedTo(trialCase: TrialCase, today: number, asOf: number): TrialCase {
  const by = Math.round((asOf - today) / millisecondsPerWeek) * millisecondsPerWeek
  if (by === 0) return trialCase
  const instant = (text: string): string => new Date(Date.parse(text) + by).toISOString()
  const { order } = trialCase
  return {
    ...trialCase,
    now: trialCase.now + by,
    order: {
      ...order,
      placedAt: instant(order.placedAt),
      ...(order.paidAt ? { paidAt: instant(order.paidAt) } : {}),
      promisedBy: order.promisedBy ? instant(`${order.promisedBy}T00:00:00Z`).slice(0, 10) : '',
    },
  }
}
