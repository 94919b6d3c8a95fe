import { isHandled, type Item } from '@/core/order'
import type { Unit } from './fill'
import { longestFirst, type Content, type Size } from './parcel'

/** Pieces that may share a parcel. */
export interface Group {
  readonly units: readonly Unit[]
}

const noSize: Size = [0, 0, 0]
const sizeOf = (item: Item): Size => item.size ?? noSize

/** The pieces of an order line, one by one. */
export function unitsOf(item: Item, index: number, quantity = item.quantity): Unit[] {
  const size = sizeOf(item)
  const upright = isHandled(item, 'this side up')
  const unit: Unit = { item: index, size: upright ? size : longestFirst(size), volume: size[0] * size[1] * size[2], weight: item.unitWeight ?? 0, upright, fragile: isHandled(item, 'fragile') }
  return new Array<Unit>(quantity).fill(unit)
}

/**
 * The pieces that need a box, in groups that must not share one: items that go alone, and items that carry a different
 * choice of the tags that are kept apart. Goods in their own box are not among them.
 */
export function groupsOf(items: readonly Item[], apart: readonly string[], quantities: readonly number[]): Group[] {
  const groups = new Map<string, Unit[]>()
  items.forEach((item, index) => {
    if (quantities[index] === 0 || isHandled(item, 'own box')) return
    const key = isHandled(item, 'alone') ? `alone ${item.sku}` : apart.length === 0 ? '' : apart.filter((tag) => item.tags.includes(tag)).join('\n')
    const units = unitsOf(item, index, quantities[index])
    const group = groups.get(key)
    if (group) for (const unit of units) group.push(unit)
    else groups.set(key, units)
  })
  return [...groups.values()].map((units) => ({ units }))
}

/** What stands in a parcel, by order line. */
export function contentsOf(units: readonly Unit[], chosen: Uint8Array, mark: number): Content[] {
  const counts = new Map<number, number>()
  for (let i = 0; i < units.length; i++) if (chosen[i] === mark) counts.set(units[i]!.item, (counts.get(units[i]!.item) ?? 0) + 1)
  return [...counts].map(([item, quantity]) => ({ item, quantity }))
}

type Sequence = (a: Unit, b: Unit) => number
const fragileLast: Sequence = (a, b) => Number(a.fragile) - Number(b.fragile)
const longest = (unit: Unit): number => Math.max(unit.size[0], unit.size[1], unit.size[2])

/** Sequences in which pieces are tried, the one that most often succeeds first; what is fragile always comes last, onto the others. */
export const sequences: readonly Sequence[] = [
  (a, b) => fragileLast(a, b) || b.volume - a.volume || a.item - b.item,
  (a, b) => fragileLast(a, b) || longest(b) - longest(a) || b.volume - a.volume || a.item - b.item,
  (a, b) => fragileLast(a, b) || b.size[0] * b.size[1] - a.size[0] * a.size[1] || b.volume - a.volume || a.item - b.item,
]
