import { grams, millimetres, type Size } from '@/core/units'
import { foldText, isHandled } from '@/core/order'
import type { Goods } from './goods'
import type { Unit } from './fillBox'
import { type Content, longestFirst } from './parcel'

/** Pieces that may share a parcel. */
export interface Group {
  readonly units: readonly Unit[]
}

const noSize: Size = [millimetres(0), millimetres(0), millimetres(0)]
const sizeOf = (item: Goods): Size => item.size ?? noSize

/**
 * The pieces of an order line, one by one. Nothing stands on what is fragile, nor on what is not stackable; both are
 * kept on top. `rank` is the line's place among equals, whatever the order of the lines.
 */
export function unitsOf(item: Goods, index: number, quantity = item.quantity, rank = index): Unit[] {
  const size = sizeOf(item)
  const upright = isHandled(item, 'this side up')
  const bare = isHandled(item, 'fragile') || isHandled(item, 'not stackable')
  const unit: Unit = {
    item: index,
    rank,
    size: upright ? size : longestFirst(size),
    volume: size[0] * size[1] * size[2],
    weight: item.unitWeight ?? grams(0),
    upright,
    fragile: bare,
  }
  return new Array<Unit>(quantity).fill(unit)
}

/**
 * The tags of an item among those that are kept apart, as one text; compared without regard to case, as all text is.
 */
export function apartKey(item: Goods, apart: readonly string[]): string {
  if (apart.length === 0) return ''
  const tags = item.tags.map(foldText)
  return apart
    .map(foldText)
    .filter((tag) => tags.includes(tag))
    .join('\n')
}

const first: readonly number[] = [0]

/** The places of order lines, so that the same lines in another order are packed the same. */
export function ranksOf(items: readonly Goods[]): readonly number[] {
  if (items.length === 1) return first
  const keys = items.map((item) =>
    [
      String(1e12 - item.quantity * (item.size ? item.size[0] * item.size[1] * item.size[2] : 0)).padStart(16, '0'),
      item.sku,
      item.size?.join(' '),
      item.unitWeight,
      item.tags.join('\n'),
      item.handling?.join('\n'),
    ].join('\t'),
  )
  const ranks = new Array<number>(items.length)
  ;[...keys.keys()]
    .sort((a, b) => {
      if (keys[a]! < keys[b]!) return -1
      return keys[a]! > keys[b]! ? 1 : a - b
    })
    .forEach((index, rank) => {
      ranks[index] = rank
    })
  return ranks
}

/**
 * The pieces that need a box, in groups that must not share one: items that go alone (several pieces of one SKU may
 * share a box, with nothing else), and items that carry a different choice of the tags that are kept apart. Goods in
 * their own box are not among them.
 */
export function groupsOf(
  items: readonly Goods[],
  apart: readonly string[],
  quantities: readonly number[],
  ranks: readonly number[],
): Group[] {
  const groups = new Map<string, Unit[]>()
  for (const index of [...items.keys()].sort((a, b) => ranks[a]! - ranks[b]!)) {
    const item = items[index]!
    if (quantities[index] === 0 || isHandled(item, 'own box')) continue
    const key = isHandled(item, 'alone') ? `alone ${item.sku}` : apartKey(item, apart)
    const units = unitsOf(item, index, quantities[index], ranks[index])
    const group = groups.get(key)
    if (group) for (const unit of units) group.push(unit)
    else groups.set(key, units)
  }
  return [...groups.values()].map((units) => ({ units }))
}

/** What stands in a parcel, by order line. */
export function contentsOf(units: readonly Unit[], chosen: Uint8Array, mark: number): Content[] {
  const counts = new Map<number, number>()
  for (let i = 0; i < units.length; i++)
    if (chosen[i] === mark) counts.set(units[i]!.item, (counts.get(units[i]!.item) ?? 0) + 1)
  return [...counts].map(([item, quantity]) => ({ item, quantity })).sort((a, b) => a.item - b.item)
}

type Sequence = (a: Unit, b: Unit) => number
const fragileLast: Sequence = (a, b) => Number(a.fragile) - Number(b.fragile)
const longest = (unit: Unit): number => Math.max(unit.size[0], unit.size[1], unit.size[2])

/**
 * Sequences in which pieces are tried, the one that most often succeeds first; what is fragile always comes last, onto
 * the others.
 */
export const sequences: readonly Sequence[] = [
  (a, b) => fragileLast(a, b) || b.volume - a.volume || a.rank - b.rank,
  (a, b) => fragileLast(a, b) || longest(b) - longest(a) || b.volume - a.volume || a.rank - b.rank,
  (a, b) =>
    fragileLast(a, b) || b.size[0] * b.size[1] - a.size[0] * a.size[1] || b.volume - a.volume || a.rank - b.rank,
]
