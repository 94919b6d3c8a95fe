import { type MinorUnits, minorUnits } from '@/core/units'
import { z } from 'zod'

/** How some of a day's orders are gathered; the first that fits an order takes it. */
export interface WaveRule {
  readonly id: string
  readonly name: string
  /** Only orders from here, by these carriers, of this priority; empty for any. */
  readonly locations: readonly string[]
  readonly carriers: readonly string[]
  readonly priorities: readonly string[]
  /** Only orders of one piece, and a wave for each SKU of which there are so many; 0 for any order. */
  readonly singles: number
  /** Most orders of one wave. */
  readonly most: number
}

const text = z.string().max(60)
const some = z.array(text).max(50)
/** The waves of a seller, checked. */
export const waveRulesSchema = z
  .array(
    z.strictObject({
      id: text.min(1),
      name: text.trim().min(1, 'needs a name'),
      locations: some,
      carriers: some,
      priorities: some,
      singles: z.number().int().min(0).max(1000),
      most: z.number().int().min(1, 'is at least 1').max(5000, 'is at most 5,000'),
    }),
  )
  .max(40, 'are at most 40')

/** An order that is ready, as waves see it. */
export interface WaveOrder {
  readonly id: number
  readonly location: string
  readonly carrier: string
  readonly priority: string
  /** Until when it must be handed over, milliseconds since 1970; null where nothing collects. */
  readonly cutOff: number | null
  /** The SKU of an order of one piece; empty for others. */
  readonly single: string
  /** What it costs, home minor units. */
  readonly cost: MinorUnits
}

/** Orders that could be one wave. */
export interface ProposedWave {
  /** The rule that gathered them; empty for what no rule takes. */
  readonly rule: string
  readonly name: string
  readonly location: string
  readonly cutOff: number | null
  /** The SKU that all of them hold one of; empty for others. */
  readonly single: string
  /** Urgent ones first, then as they were given. */
  readonly orders: readonly number[]
  readonly cost: MinorUnits
}

/** What takes the orders that no rule takes. */
const others: WaveRule = {
  ...{ id: '', name: 'Everything else', locations: [], carriers: [], priorities: [], singles: 0, most: 300 },
}
const rank: Readonly<Record<string, number>> = { urgent: 0, normal: 1, low: 2 }

/**
 * Gathers orders into waves: each order goes to the first rule that takes it; what a rule takes is parted by location,
 * by cut-off, for single items by SKU, and by size. Every order is in exactly one wave. Those that leave first come
 * first.
 * @example formWaves([], [{ id: 1, location: 'ghent', … }]) // [{ rule: '', name: 'All that is ready', orders: [1], …
 * }]
 */
export function formWaves(rules: readonly WaveRule[], orders: readonly WaveOrder[]): readonly ProposedWave[] {
  const left = new Set(orders)
  const rest = rules.length === 0 ? { ...others, name: 'All that is ready' } : others
  return [...rules, rest]
    .flatMap((rule) => {
      const taken = takenBy(rule, [...left])
      for (const order of taken) left.delete(order)
      return parted(rule, taken)
    })
    .sort(byCutOff)
}

function takenBy(rule: WaveRule, orders: readonly WaveOrder[]): readonly WaveOrder[] {
  const fits = (list: readonly string[], value: string): boolean => list.length === 0 || list.includes(value)
  const fitting = orders.filter(
    ({ location, carrier, priority, single }) =>
      fits(rule.locations, location) &&
      fits(rule.carriers, carrier) &&
      fits(rule.priorities, priority) &&
      (rule.singles === 0 || single !== ''),
  )
  if (rule.singles === 0) return fitting
  const groups = groupBy(fitting, (order) => keyOf(order, true))
  return fitting.filter((order) => groups.get(keyOf(order, true))!.length >= rule.singles)
}

function parted(rule: WaveRule, orders: readonly WaveOrder[]): ProposedWave[] {
  const single = rule.singles > 0
  return [...groupBy(orders, (order) => keyOf(order, single)).values()].flatMap((group) => {
    const sorted = [...group].sort((a, b) => (rank[a.priority] ?? 1) - (rank[b.priority] ?? 1))
    const waves: ProposedWave[] = []
    for (let from = 0; from < sorted.length; from += rule.most) {
      const part = sorted.slice(from, from + rule.most)
      const { location, cutOff, single: sku } = part[0]!
      waves.push({
        ...{ rule: rule.id, name: rule.name, location, cutOff, single: single ? sku : '' },
        orders: part.map(({ id }) => id),
        cost: minorUnits(part.reduce((sum, { cost }) => sum + cost, 0)),
      })
    }
    return waves
  })
}

const keyOf = ({ location, cutOff, single }: WaveOrder, bySku: boolean): string =>
  JSON.stringify([location, cutOff, bySku ? single : ''])

function groupBy<T>(list: readonly T[], key: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const one of list) {
    const group = groups.get(key(one))
    if (group) group.push(one)
    else groups.set(key(one), [one])
  }
  return groups
}

const byCutOff = (a: ProposedWave, b: ProposedWave): number => (a.cutOff ?? Infinity) - (b.cutOff ?? Infinity) || 0
