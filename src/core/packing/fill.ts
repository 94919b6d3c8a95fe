import type { Size } from './parcel'

/** One piece to be packed. Millimetres and grams; a piece of unknown size takes no room. */
export interface Unit {
  /** The place of its line in the order. */
  readonly item: number
  readonly size: Size
  readonly volume: number
  readonly weight: number
  /** Only turned about the vertical; nothing stands on it. */
  readonly upright: boolean
  readonly fragile: boolean
}

/** Where a piece stands in a box, from the left front corner at the bottom. */
export interface Placement {
  readonly unit: Unit
  readonly at: Size
  readonly size: Size
}

const room = 6
const mostSpaces = 240
let spaces = new Int32Array(mostSpaces * room)
let next = new Int32Array(mostSpaces * room)
let count = 0

const turns: readonly (readonly [number, number, number])[] = [[0, 1, 2], [1, 0, 2], [0, 2, 1], [2, 0, 1], [1, 2, 0], [2, 1, 0]]

/**
 * Fills a box with pieces, in the order given, as far as they go in and `limit` grams allow: the number of pieces that
 * stand in it. `taken[i]` becomes 1 for each of them, and `placed`, when given, says where. Free room is kept as the
 * largest empty cuboids ("empty maximal spaces"); each piece goes to the lowest, then hindmost, then leftmost of them, turned
 * so that it lies lowest. Deterministic; memory is used again, so it must not be called from within itself.
 */
export function fillBox(box: Size, units: readonly Unit[], limit: number, taken: Uint8Array, placed?: Placement[]): number {
  count = 1
  spaces[0] = 0; spaces[1] = 0; spaces[2] = 0; spaces[3] = box[0]; spaces[4] = box[1]; spaces[5] = box[2]
  let weight = 0
  let done = 0
  let leastSide = Infinity
  for (let i = 0; i < units.length; i++) if (taken[i] === 0) leastSide = Math.min(leastSide, units[i]!.size[0], units[i]!.size[1], units[i]!.size[2])
  for (let i = 0; i < units.length; i++) {
    const unit = units[i]!
    if (taken[i] !== 0 || weight + unit.weight > limit) continue
    if (unit.volume > 0) {
      const at = findRoom(unit)
      if (at < 0) continue
      const space = Math.floor(at / room)
      const turn = turns[at % room]!
      const [x, y, z] = [spaces[space * room]!, spaces[space * room + 1]!, spaces[space * room + 2]!]
      const size: Size = [unit.size[turn[0]]!, unit.size[turn[1]]!, unit.size[turn[2]]!]
      placed?.push({ unit, at: [x, y, z], size })
      takeRoom(x, y, z, x + size[0], y + size[1], unit.fragile ? box[2] : z + size[2], leastSide)
    } else placed?.push({ unit, at: [0, 0, 0], size: [0, 0, 0] })
    taken[i] = 1
    weight += unit.weight
    done++
  }
  return done
}

/** The best place for a piece as `space × 6 + turn`; −1 when it goes in nowhere. */
function findRoom({ size, upright }: Unit): number {
  let best = -1
  let bestZ = Infinity
  let bestY = Infinity
  let bestX = Infinity
  let bestHeight = Infinity
  const turnCount = upright ? 2 : 6
  for (let s = 0; s < count; s++) {
    const o = s * room
    const z = spaces[o + 2]!
    if (z > bestZ) continue
    const [width, depth, height] = [spaces[o + 3]! - spaces[o]!, spaces[o + 4]! - spaces[o + 1]!, spaces[o + 5]! - z]
    for (let t = 0; t < turnCount; t++) {
      const turn = turns[t]!
      const tall = size[turn[2]]!
      if (size[turn[0]]! > width || size[turn[1]]! > depth || tall > height) continue
      const y = spaces[o + 1]!
      const x = spaces[o]!
      if (z < bestZ || tall < bestHeight || (tall === bestHeight && (y < bestY || (y === bestY && x < bestX)))) {
        best = o + t
        bestZ = z; bestY = y; bestX = x; bestHeight = tall
      }
    }
  }
  return best
}

/** Takes a cuboid out of the free room: what it cuts falls into the largest cuboids left of it, and those within others go. */
function takeRoom(x1: number, y1: number, z1: number, x2: number, y2: number, z2: number, leastSide: number): void {
  let kept = 0
  const add = (a: number, b: number, c: number, d: number, e: number, f: number): void => {
    if (d - a < leastSide || e - b < leastSide || f - c < leastSide || kept >= mostSpaces) return
    for (let k = 0; k < kept; k++) {
      const o = k * room
      if (next[o]! <= a && next[o + 1]! <= b && next[o + 2]! <= c && next[o + 3]! >= d && next[o + 4]! >= e && next[o + 5]! >= f) return
    }
    for (let k = kept - 1; k >= 0; k--) {
      const o = k * room
      if (next[o]! >= a && next[o + 1]! >= b && next[o + 2]! >= c && next[o + 3]! <= d && next[o + 4]! <= e && next[o + 5]! <= f) {
        kept--
        next.copyWithin(o, kept * room, kept * room + room)
      }
    }
    const o = kept * room
    next[o] = a; next[o + 1] = b; next[o + 2] = c; next[o + 3] = d; next[o + 4] = e; next[o + 5] = f
    kept++
  }
  for (let s = 0; s < count; s++) {
    const o = s * room
    const [a, b, c, d, e, f] = [spaces[o]!, spaces[o + 1]!, spaces[o + 2]!, spaces[o + 3]!, spaces[o + 4]!, spaces[o + 5]!]
    if (x2 <= a || x1 >= d || y2 <= b || y1 >= e || z2 <= c || z1 >= f) {
      add(a, b, c, d, e, f)
      continue
    }
    if (x1 > a) add(a, b, c, x1, e, f)
    if (x2 < d) add(x2, b, c, d, e, f)
    if (y1 > b) add(a, b, c, d, y1, f)
    if (y2 < e) add(a, y2, c, d, e, f)
    if (z1 > c) add(a, b, c, d, e, z1)
    if (z2 < f) add(a, b, z2, d, e, f)
  }
  ;[spaces, next] = [next, spaces]
  count = kept
}
