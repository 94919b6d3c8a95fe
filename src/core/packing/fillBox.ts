import type { Grams, Size } from '@/core/units'
import type { Sides } from './parcel'

/** One piece to be packed. Millimetres and grams; a piece of unknown size takes no room. */
export interface Unit {
  /** The place of its line in the order. */
  readonly item: number
  /** Among pieces that are otherwise equal, the lower goes first. */
  readonly rank: number
  readonly size: Size
  readonly volume: number
  readonly weight: Grams
  /** Only turned about the vertical. */
  readonly upright: boolean
  /** Nothing stands on it. */
  readonly fragile: boolean
}

/** Where a piece stands in a box, from the left front corner at the bottom. */
export interface Placement {
  readonly unit: Unit
  readonly at: Sides
  readonly size: Sides
}

const room = 6
// More would find a box that is cheaper by half a per cent for fifty pieces, in twice the time.
const maxSpaces = 32
let spaces = new Int32Array(maxSpaces * room)
let next = new Int32Array(maxSpaces * room)
let count = 0

/** What stands in the box already: x, y, right end, back end and top of each piece. */
const ends = 5
let standing = new Int32Array(64 * ends)
let stood = 0
/** Whether a piece must rest on the bottom, or with half of its base or more on others. */
let resting = true

const turns: readonly (readonly [number, number, number])[] = [
  [0, 1, 2],
  [1, 0, 2],
  [0, 2, 1],
  [2, 0, 1],
  [1, 2, 0],
  [2, 1, 0],
]

/**
 * Fills a box with pieces, in the order given, as far as they go in and `limit` grams allow: the number of pieces that
 * stand in it. `taken[i]` becomes 1 for each of them, and `placed`, when given, says where. Free room is kept as the
 * largest empty cuboids ("empty maximal spaces"); each piece goes to the lowest, then hindmost, then leftmost of them,
 * turned so that it lies lowest; or, `tight`, to where it leaves the least of the room unused. A piece rests on the
 * bottom, or with at least half of its base on others (unless `loose`). With `whole`, it gives up at the first piece
 * that goes in nowhere. Deterministic; memory is used again, so it must not be called from within itself.
 */
export function fillBox(
  box: Sides,
  units: readonly Unit[],
  limit: number,
  taken: Uint8Array,
  {
    placed,
    tight = false,
    whole = false,
    loose = false,
  }: {
    readonly placed?: Placement[] | undefined
    readonly tight?: boolean
    readonly whole?: boolean
    readonly loose?: boolean
  } = {},
): number {
  count = 1
  stood = 0
  resting = !loose
  spaces[0] = 0
  spaces[1] = 0
  spaces[2] = 0
  spaces[3] = box[0]
  spaces[4] = box[1]
  spaces[5] = box[2]
  let weight = 0
  let done = 0
  let minSide = Infinity
  let minVolume = Infinity
  for (let i = 0; i < units.length; i++) {
    if (taken[i] !== 0 || units[i]!.volume === 0) continue
    minSide = Math.min(minSide, units[i]!.size[0], units[i]!.size[1], units[i]!.size[2])
    minVolume = Math.min(minVolume, units[i]!.volume)
  }
  for (let i = 0; i < units.length; i++) {
    const unit = units[i]!
    if (taken[i] !== 0) continue
    if (weight + unit.weight > limit) {
      if (whole) return done
      continue
    }
    if (unit.volume > 0) {
      const at = tight ? findTight(unit, box[2]) : findRoom(unit, box[2])
      if (at < 0) {
        if (whole) return done
        continue
      }
      const space = Math.floor(at / room)
      const turn = turns[at % room]!
      const [x, y, z] = [spaces[space * room]!, spaces[space * room + 1]!, spaces[space * room + 2]!]
      const size: Sides = [unit.size[turn[0]]!, unit.size[turn[1]]!, unit.size[turn[2]]!]
      placed?.push({ unit, at: [x, y, z], size })
      if (resting) stand(x, y, x + size[0], y + size[1], z + size[2])
      takeRoom(x, y, z, x + size[0], y + size[1], unit.fragile ? box[2] : z + size[2], minSide, minVolume)
    } else placed?.push({ unit, at: [0, 0, 0], size: [0, 0, 0] })
    taken[i] = 1
    weight += unit.weight
    done++
  }
  return done
}

/**
 * The best place for a piece as `space × 6 + turn`; −1 when it goes in nowhere. What is fragile never goes under
 * another piece.
 */
function findRoom({ size, upright, fragile }: Unit, top: number): number {
  let best = -1
  let bestZ = Infinity
  let bestY = Infinity
  let bestX = Infinity
  let bestHeight = Infinity
  const turnCount = upright ? 2 : 6
  for (let s = 0; s < count; s++) {
    const o = s * room
    const z = spaces[o + 2]!
    if (z > bestZ || (fragile && spaces[o + 5]! < top)) continue
    const [width, depth, height] = [spaces[o + 3]! - spaces[o]!, spaces[o + 4]! - spaces[o + 1]!, spaces[o + 5]! - z]
    for (let t = 0; t < turnCount; t++) {
      const turn = turns[t]!
      const tall = size[turn[2]]!
      if (size[turn[0]]! > width || size[turn[1]]! > depth || tall > height) continue
      const y = spaces[o + 1]!
      const x = spaces[o]!
      if (
        (z < bestZ || tall < bestHeight || (tall === bestHeight && (y < bestY || (y === bestY && x < bestX)))) &&
        rests(x, y, z, size[turn[0]]!, size[turn[1]]!)
      ) {
        best = o + t
        bestZ = z
        bestY = y
        bestX = x
        bestHeight = tall
      }
    }
  }
  return best
}

/** The place where a piece leaves the shortest gaps, the shortest of them first; −1 when it goes in nowhere. */
function findTight({ size, upright, fragile }: Unit, top: number): number {
  let best = -1
  let bestGap = Infinity
  let bestRest = Infinity
  const turnCount = upright ? 2 : 6
  for (let s = 0; s < count; s++) {
    const o = s * room
    if (fragile && spaces[o + 5]! < top) continue
    const width = spaces[o + 3]! - spaces[o]!
    const depth = spaces[o + 4]! - spaces[o + 1]!
    const height = spaces[o + 5]! - spaces[o + 2]!
    for (let t = 0; t < turnCount; t++) {
      const turn = turns[t]!
      const a = width - size[turn[0]]!
      const b = depth - size[turn[1]]!
      const c = height - size[turn[2]]!
      if (a < 0 || b < 0 || c < 0) continue
      const gap = Math.min(a, b, c)
      const rest = a + b + c
      if (
        (gap < bestGap || (gap === bestGap && rest < bestRest)) &&
        rests(spaces[o]!, spaces[o + 1]!, spaces[o + 2]!, size[turn[0]]!, size[turn[1]]!)
      ) {
        best = o + t
        bestGap = gap
        bestRest = rest
      }
    }
  }
  return best
}

function stand(x1: number, y1: number, x2: number, y2: number, top: number): void {
  if ((stood + 1) * ends > standing.length) {
    const more = new Int32Array(standing.length * 2)
    more.set(standing)
    standing = more
  }
  const o = stood++ * ends
  standing[o] = x1
  standing[o + 1] = y1
  standing[o + 2] = x2
  standing[o + 3] = y2
  standing[o + 4] = top
}

/** Whether a base of this size at this place has at least half of itself on the bottom or on pieces. */
function rests(x: number, y: number, z: number, width: number, depth: number): boolean {
  if (z === 0 || !resting) return true
  let borne = 0
  for (let i = 0, o = 0; i < stood; i++, o += ends) {
    if (standing[o + 4] !== z) continue
    const across = Math.min(x + width, standing[o + 2]!) - Math.max(x, standing[o]!)
    const along = Math.min(y + depth, standing[o + 3]!) - Math.max(y, standing[o + 1]!)
    if (across > 0 && along > 0) borne += across * along
  }
  return borne * 2 >= width * depth
}

/**
 * Pieces let down onto what is under them, lowest first; null when one of them would then have less than half of its
 * base on something. For boxes that were filled lying on a side.
 */
export function letDown(placed: readonly Placement[]): readonly Placement[] | null {
  const down: Placement[] = []
  for (const { unit, at, size } of [...placed].sort((a, b) => a.at[2] - b.at[2])) {
    const overlap = ({ at: on, size: base }: Placement): number =>
      Math.max(0, Math.min(at[0] + size[0], on[0] + base[0]) - Math.max(at[0], on[0])) *
      Math.max(0, Math.min(at[1] + size[1], on[1] + base[1]) - Math.max(at[1], on[1]))
    const under = down.filter((other) => overlap(other) > 0)
    const z = Math.max(0, ...under.map((other) => other.at[2] + other.size[2]))
    const borne = under
      .filter((other) => other.at[2] + other.size[2] === z)
      .reduce((sum, other) => sum + overlap(other), 0)
    if (unit.volume > 0 && z > 0 && borne * 2 < size[0] * size[1]) return null
    down.push({ unit, at: [at[0], at[1], z], size })
  }
  return down
}

/**
 * Takes a cuboid out of the free room: what it cuts falls into the largest cuboids left of it, and those within others
 * go. A piece of a cut space is part of that space, so it can lie within others, but never hold one that was not cut.
 */
function takeRoom(
  x1: number,
  y1: number,
  z1: number,
  x2: number,
  y2: number,
  z2: number,
  minSide: number,
  minVolume: number,
): void {
  let kept = 0
  for (let s = 0; s < count; s++) {
    const o = s * room
    if (
      x2 <= spaces[o]! ||
      x1 >= spaces[o + 3]! ||
      y2 <= spaces[o + 1]! ||
      y1 >= spaces[o + 4]! ||
      z2 <= spaces[o + 2]! ||
      z1 >= spaces[o + 5]!
    ) {
      const to = kept * room
      for (let i = 0; i < room; i++) next[to + i] = spaces[o + i]!
      kept++
    }
  }
  const whole = kept
  for (let s = 0; s < count; s++) {
    const o = s * room
    const a = spaces[o]!
    const b = spaces[o + 1]!
    const c = spaces[o + 2]!
    const d = spaces[o + 3]!
    const e = spaces[o + 4]!
    const f = spaces[o + 5]!
    if (x2 <= a || x1 >= d || y2 <= b || y1 >= e || z2 <= c || z1 >= f) continue
    if (x1 > a) kept = addSpace(kept, whole, a, b, c, x1, e, f, minSide, minVolume)
    if (x2 < d) kept = addSpace(kept, whole, x2, b, c, d, e, f, minSide, minVolume)
    if (y1 > b) kept = addSpace(kept, whole, a, b, c, d, y1, f, minSide, minVolume)
    if (y2 < e) kept = addSpace(kept, whole, a, y2, c, d, e, f, minSide, minVolume)
    if (z1 > c) kept = addSpace(kept, whole, a, b, c, d, e, z1, minSide, minVolume)
    if (z2 < f) kept = addSpace(kept, whole, a, b, z2, d, e, f, minSide, minVolume)
  }
  ;[spaces, next] = [next, spaces]
  count = kept
}

/**
 * Keeps a space unless it is too small for every piece or lies within another; of the new ones (from `whole` on),
 * those within it go.
 */
function addSpace(
  kept: number,
  whole: number,
  a: number,
  b: number,
  c: number,
  d: number,
  e: number,
  f: number,
  minSide: number,
  minVolume: number,
): number {
  if (d - a < minSide || e - b < minSide || f - c < minSide || (d - a) * (e - b) * (f - c) < minVolume) return kept
  for (let k = 0; k < kept; k++) {
    const o = k * room
    if (
      next[o]! <= a &&
      next[o + 1]! <= b &&
      next[o + 2]! <= c &&
      next[o + 3]! >= d &&
      next[o + 4]! >= e &&
      next[o + 5]! >= f
    )
      return kept
  }
  for (let k = kept - 1; k >= whole; k--) {
    const o = k * room
    if (
      next[o]! >= a &&
      next[o + 1]! >= b &&
      next[o + 2]! >= c &&
      next[o + 3]! <= d &&
      next[o + 4]! <= e &&
      next[o + 5]! <= f
    ) {
      kept--
      for (let i = 0; i < room; i++) next[o + i] = next[kept * room + i]!
    }
  }
  if (kept >= maxSpaces) return kept
  const to = kept * room
  next[to] = a
  next[to + 1] = b
  next[to + 2] = c
  next[to + 3] = d
  next[to + 4] = e
  next[to + 5] = f
  return kept + 1
}
