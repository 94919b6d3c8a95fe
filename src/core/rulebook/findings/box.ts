import { allBits, and, type Bits, isEmpty, meet, or, within, without } from './bits'

/*
 * Conditions as sets of points. A point gives every source (a fact, a tag, an item test) one of its classes. A box
 * restricts some sources; a condition is a union of boxes.
 */

/**
 * What one test allows of its source. `most` holds every class in which it may hold, `least` those in which it surely
 * does; they differ only where a source has an open class (patterns too many to tell apart).
 */
export interface Limit {
  readonly source: number
  readonly most: Bits
  readonly least: Bits
}

/** A condition in negation normal form. */
export type Formula = { readonly and: readonly Formula[] } | { readonly or: readonly Formula[] } | Limit

/** Restrictions by source; a source that is not named may be anything. */
export type Box = ReadonlyMap<number, Limit>

export const never: Formula = { or: [] }

/** The opposite of a formula; `sizes` gives the number of classes of each source. */
export function negate(formula: Formula, sizes: readonly number[]): Formula {
  if ('and' in formula) return { or: formula.and.map((part) => negate(part, sizes)) }
  if ('or' in formula) return { and: formula.or.map((part) => negate(part, sizes)) }
  const all = allBits(sizes[formula.source]!)
  return { source: formula.source, most: without(all, formula.least), least: without(all, formula.most) }
}

// Past this many boxes a condition is too intertwined to be reasoned about.
const maxBoxes = 400
/** So many while it is worked out. */
const maxProduct = 2000
/** So few are not looked through for what is held twice. */
const fewBoxes = 12

/** The boxes of a formula, without empty ones; null when there are too many. */
export function boxesOf(formula: Formula): Box[] | null {
  if ('source' in formula) return isEmpty(formula.most) ? [] : [new Map([[formula.source, formula]])]
  if ('or' in formula) return union(formula.or)
  let boxes: Box[] = [new Map()]
  // The parts with fewest boxes first, so that contradictions end it early.
  const parts: Box[][] = []
  for (const part of formula.and) {
    const own = boxesOf(part)
    if (own === null) return null
    parts.push(own)
  }
  for (const part of parts.sort((a, b) => a.length - b.length)) {
    const next: Box[] = []
    for (const box of boxes)
      for (const other of part) {
        const both = intersect(box, other)
        if (both) next.push(both)
        if (next.length > maxProduct) return null
      }
    boxes = next.length > fewBoxes ? withoutHeld(next) : next
    if (boxes.length > maxBoxes) return null
  }
  return boxes
}

/**
 * Boxes without those that lie in another one as a whole: the same points, of which conditions that say things twice
 * make many.
 */
function withoutHeld(boxes: readonly Box[]): Box[] {
  const kept: Box[] = []
  // Those with the fewest restrictions are the largest: they come first.
  for (const box of [...boxes].sort((a, b) => a.size - b.size))
    if (!kept.some((other) => holds(other, box))) kept.push(box)
  return kept
}

/** Whether all points of `inner` are in `outer`, the sure ones among its sure ones. */
function holds(outer: Box, inner: Box): boolean {
  for (const [source, limit] of outer) {
    const own = inner.get(source)
    if (!own || !within(own.most, limit.most) || !within(own.least, limit.least)) return false
  }
  return true
}

/** Members that restrict one and the same source are joined into one box. */
function union(parts: readonly Formula[]): Box[] | null {
  const bySource = new Map<number, Limit>()
  const others: Box[] = []
  for (const part of parts) {
    const boxes = boxesOf(part)
    if (boxes === null) return null
    for (const box of boxes) {
      if (box.size !== 1) others.push(box)
      else {
        const [limit] = box.values() as unknown as [Limit]
        const before = bySource.get(limit.source)
        bySource.set(
          limit.source,
          before
            ? { source: limit.source, most: or(before.most, limit.most), least: or(before.least, limit.least) }
            : limit,
        )
      }
    }
    if (others.length > maxBoxes) return null
  }
  return [...[...bySource.values()].map((limit): Box => new Map([[limit.source, limit]])), ...others]
}

/** The points in both boxes; null when there are none. */
export function intersect(a: Box, b: Box): Box | null {
  const [small, large] = a.size < b.size ? [a, b] : [b, a]
  for (const [source, limit] of small) {
    const other = large.get(source)
    if (other && !meet(limit.most, other.most)) return null
  }
  const out = new Map(large)
  for (const [source, limit] of small) {
    const other = out.get(source)
    out.set(source, other ? { source, most: and(limit.most, other.most), least: and(limit.least, other.least) } : limit)
  }
  return out
}

/** Whether two boxes may share a point. */
export function touch(a: Box, b: Box): boolean {
  const [small, large] = a.size < b.size ? [a, b] : [b, a]
  for (const [source, limit] of small) {
    const other = large.get(source)
    if (other && !meet(limit.most, other.most)) return false
  }
  return true
}

/** A search that is given up after so many steps. */
export interface Effort {
  left: number
}

/**
 * Looks for a part of `box` outside all of `taken`, of which `accept` says that it has a point. A `taken` box counts
 * with what it surely holds (`least`), the box with all it may hold (`most`). Null when there is none; 'given up' when
 * the effort did not suffice.
 */
export function partOutside(
  box: Box,
  taken: readonly Box[],
  sizes: readonly number[],
  accept: (part: Box) => boolean,
  effort: Effort,
): Box | null | 'given up' {
  if (effort.left-- <= 0) return 'given up'
  const live: Box[] = []
  let best: Box | null = null
  let fewest = Infinity
  for (const other of taken) {
    const open = openSources(box, other)
    if (open === null) continue
    if (open === 0) return null
    live.push(other)
    if (open < fewest) {
      fewest = open
      best = other
    }
  }
  if (best === null) return accept(box) ? box : null
  let rest = box
  for (const [source, limit] of best) {
    const own = rest.get(source) ?? whole(source, sizes)
    const outside = without(own.most, limit.least)
    if (isEmpty(outside)) continue
    const found = partOutside(
      new Map(rest).set(source, { source, most: outside, least: and(own.least, outside) }),
      live,
      sizes,
      accept,
      effort,
    )
    if (found !== null) return found
    const inside = and(own.most, limit.least)
    if (isEmpty(inside)) return null
    rest = new Map(rest).set(source, { source, most: inside, least: and(own.least, inside) })
  }
  return null
}

const whole = (source: number, sizes: readonly number[]): Limit => {
  const all = allBits(sizes[source]!)
  return { source, most: all, least: all }
}

/** How many sources of `other` leave a part of the box outside; null when the two share nothing for sure. */
function openSources(box: Box, other: Box): number | null {
  let open = 0
  for (const [source, limit] of other) {
    const own = box.get(source)
    if (own ? !meet(own.most, limit.least) : isEmpty(limit.least)) return null
    // A source that the box leaves free counts as open; that it might be allowed whole costs one more look.
    if (!own || !within(own.most, limit.least)) open++
  }
  return open
}
