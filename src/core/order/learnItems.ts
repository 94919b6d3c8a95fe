import { type Grams, grams } from '@/core/units'
import type { Item } from './order'

/** A weight correction that a person made for one order: grams added to all its items together. */
export interface WeightCorrection {
  readonly order: number
  readonly items: readonly Item[]
  readonly grams: Grams
}

/** A weight that people's corrections agree on. */
export interface LearnedWeight {
  readonly sku: string
  readonly before: Grams
  readonly after: Grams
  /** Orders whose corrections say so, and those that say something else. */
  readonly orders: readonly number[]
  readonly against: number
}

const fewest = 3
/** Corrections within this many grams, or this share of the weight, agree. */
const closeGrams = 20
const closeShare = 0.05

/**
 * Item weights that corrections point to: of orders that hold one SKU only, at least three whose corrected weight of
 * one piece agrees, and twice as many as disagree. The median of those that agree is proposed.
 */
export function learnWeights(corrections: readonly WeightCorrection[]): LearnedWeight[] {
  const bySku = new Map<string, { order: number; unit: number; before: number }[]>()
  for (const { order, items, grams: by } of corrections) {
    const [item] = items
    if (!item || item.sku === '' || by === 0 || items.some(({ sku }) => sku !== item.sku)) continue
    const quantity = items.reduce((sum, one) => sum + one.quantity, 0)
    const before = item.unitWeight ?? 0
    const list = bySku.get(item.sku) ?? []
    list.push({ order, unit: Math.round(before + by / quantity), before })
    bySku.set(item.sku, list)
  }
  return [...bySku].flatMap(([sku, list]): LearnedWeight[] => {
    const middle = median(list.map(({ unit }) => unit))
    const agreeing = list.filter(({ unit }) => Math.abs(unit - middle) <= Math.max(closeGrams, middle * closeShare))
    const after = median(agreeing.map(({ unit }) => unit))
    if (agreeing.length < fewest || agreeing.length < 2 * (list.length - agreeing.length) || after <= 0) return []
    return [
      {
        sku,
        before: grams(agreeing[0]!.before),
        after: grams(after),
        orders: agreeing.map(({ order }) => order),
        against: list.length - agreeing.length,
      },
    ]
  })
}

const median = (numbers: readonly number[]): number =>
  [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)] ?? 0
