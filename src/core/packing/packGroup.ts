import { fillBox, letDown, type Placement, type Unit } from './fillBox'
import type { Goods } from './goods'
import { admits, innerVolume, longestFirst, type PackagePreset, type Parcel, parcelOf, type Sides } from './parcel'
import { contentsOf, sequences, unitsOf } from './pieces'
import { isLeft, maxGoods, maxParcels, type Room, type SortedRoom, take } from './room'

// Several goods never fill a box wholly; benches count on a tenth of air and padding. A single piece may.
const usableShare = 0.9
// With so few pieces every sequence and both ways to place are tried.
const fewPieces = 16
const hopefulShare = 0.75
// Beyond this many pieces of one line, whole boxes of it are counted before the rest is packed piece by piece.
export const manyPieces = 40
// Up to so many pieces, no other way to share them out takes fewer parcels.
const exactPieces = 6

/**
 * Whole boxes of one line, by the preset that holds most of it; the rest stays for the others. Null when no preset
 * takes a single piece.
 */
export function fullBoxes(
  item: Goods,
  index: number,
  quantity: number,
  presets: readonly PackagePreset[],
  room: Room,
): Parcel[] | null {
  const units = unitsOf(item, index, Math.min(quantity, manyPieces * 5))
  let best: { preset: PackagePreset; holds: number } | null = null
  for (const preset of presets) {
    const holds = isLeft(preset, room) ? capacity(preset, units, room) : 0
    if (holds > (best?.holds ?? 0)) best = { preset, holds }
  }
  if (!best) return null
  const { preset, holds } = best
  const boxes = Math.min(maxParcels + 1, Math.floor(quantity / holds), room.left.get(preset.id) ?? Infinity)
  take(preset, room, boxes)
  return new Array<Parcel>(boxes).fill(
    parcelOf(preset.id, preset.outer, holds * (item.unitWeight ?? 0) + preset.tare, [{ item: index, quantity: holds }]),
  )
}

function capacity(preset: PackagePreset, units: readonly Unit[], room: Room): number {
  const most =
    units[0]!.volume > 0
      ? Math.max(1, Math.floor((innerVolume(preset) * usableShare) / units[0]!.volume))
      : units.length
  const tried = units.slice(0, Math.min(most, room.pieces ?? Infinity))
  return tried.length === 0 ? 0 : fillBox(preset.inner, tried, maxGoods(preset, room), new Uint8Array(tried.length))
}

/** Parcels for pieces that may share one; null when some piece goes into no preset. */
export function packGroup(
  units: readonly Unit[],
  presets: readonly PackagePreset[],
  room: SortedRoom,
): Parcel[] | null {
  const before = new Map(room.left)
  const greedy = packGreedily(units, presets, room)
  if (greedy === null || units.length > exactPieces || greedy.length <= fewestThinkable(units, presets, room))
    return greedy
  const used = new Map(room.left)
  before.forEach((pieces, id) => room.left.set(id, pieces))
  const exact = packExactly(units, presets, room, greedy.length)
  if (!exact) used.forEach((pieces, id) => room.left.set(id, pieces))
  return exact ?? greedy
}

function packGreedily(units: readonly Unit[], presets: readonly PackagePreset[], room: SortedRoom): Parcel[] | null {
  const parcels: Parcel[] = []
  let rest = units
  while (rest.length > 0) {
    const whole = smallestFor(rest, presets, room)
    if (whole) {
      take(whole.preset, room)
      parcels.push(whole.parcel)
      return parcels
    }
    const part = largestShare(rest, presets, room)
    if (!part) return null
    take(part.preset, room)
    parcels.push(part.parcel)
    if (parcels.length > maxParcels) return parcels
    rest = part.rest
  }
  return parcels
}

/** Fewer parcels than this there cannot be, by weight, volume and number of pieces. */
function fewestThinkable(units: readonly Unit[], presets: readonly PackagePreset[], room: Room): number {
  const able = presets.filter((preset) => isLeft(preset, room))
  const most = Math.max(0, ...able.map((preset) => maxGoods(preset, room)))
  const largest = Math.max(0, ...able.map(innerVolume))
  return Math.max(
    1,
    Math.ceil(weightOf(units) / Math.max(1, most)),
    Math.ceil(volumeOf(units) / Math.max(1, largest)),
    Math.ceil(units.length / (room.pieces ?? Infinity)),
  )
}

/**
 * The fewest parcels for a few pieces, by asking every share of them whether it goes into one box; null when that is no
 * fewer than `found`. Equal pieces make equal shares, which are asked once.
 */
function packExactly(
  units: readonly Unit[],
  presets: readonly PackagePreset[],
  room: Room,
  found: number,
): Parcel[] | null {
  const all = (1 << units.length) - 1
  const asked = new Map<string, Smallest | null>()
  const chosen = (mask: number): Unit[] => units.filter((_, i) => mask & (1 << i))
  const boxFor = (mask: number): Smallest | null => {
    const share = chosen(mask)
    const key = share.map(({ item }) => item).join(' ')
    let box = asked.get(key)
    if (box === undefined) asked.set(key, (box = smallestFor(share, presets, room)))
    return box
  }
  const best = new Map<number, readonly Smallest[]>([[0, []]])
  const fewest = (mask: number): readonly Smallest[] | null => {
    const known = best.get(mask)
    if (known) return known
    let least: readonly Smallest[] | null = null
    const first = mask & -mask
    for (let share = mask; share > 0; share = (share - 1) & mask) {
      if ((share & first) === 0) continue
      const box = boxFor(share)
      const others = box && fewest(mask ^ share)
      if (others && (!least || others.length + 1 < least.length)) least = [box, ...others]
    }
    if (least) best.set(mask, least)
    return least
  }
  const boxes = fewest(all)
  if (!boxes || boxes.length >= found) return null
  for (const { preset } of boxes)
    if (boxes.filter((box) => box.preset === preset).length > (room.left.get(preset.id) ?? Infinity)) return null
  for (const { preset } of boxes) take(preset, room)
  return boxes.map(({ parcel }) => parcel)
}

const weightOf = (units: readonly Unit[]): number => units.reduce((sum, unit) => sum + unit.weight, 0)
const volumeOf = (units: readonly Unit[]): number => units.reduce((sum, unit) => sum + unit.volume, 0)

interface Smallest {
  readonly preset: PackagePreset
  readonly parcel: Parcel
}

/** All pieces in one parcel: the cheapest, then smallest preset that holds them. */
function smallestFor(units: readonly Unit[], presets: readonly PackagePreset[], room: Room): Smallest | null {
  if (room.pieces !== undefined && units.length > room.pieces) return null
  const weight = weightOf(units)
  const volume = volumeOf(units)
  const needed = longestSides(units)
  const share = units.length === 1 ? 1 : usableShare
  for (const preset of presets) {
    if (
      !isLeft(preset, room) ||
      weight > maxGoods(preset, room) ||
      volume > innerVolume(preset) * share ||
      !admits(preset.inner, needed)
    )
      continue
    if (units.length > 1 || units[0]!.upright ? !holds(preset, units, room) : false) continue
    return {
      preset,
      parcel: parcelOf(
        preset.id,
        preset.outer,
        weight + preset.tare,
        contentsOf(units, new Uint8Array(units.length).fill(1), 1),
      ),
    }
  }
  return null
}

function holds(preset: PackagePreset, units: readonly Unit[], room: Room): boolean {
  const most = maxGoods(preset, room)
  if (units.length === 1) return fillBox(preset.inner, units, most, new Uint8Array(1), { whole: true }) === 1
  for (const [n, sequence] of sequences.entries()) {
    const sorted = [...units].sort(sequence)
    for (const tight of units.length <= fewPieces ? [false, true] : [false]) {
      const placed = fillBox(preset.inner, sorted, most, new Uint8Array(sorted.length), { tight, whole: true })
      if (placed === sorted.length) return true
      // Of many pieces that stopped long before the end, another sequence seldom makes room for all.
      if (n === 0 && units.length > fewPieces && placed < sorted.length * hopefulShare) return false
    }
  }
  return units.length <= fewPieces && reordered(preset.inner, units, most) !== null
}

// So many mixed sequences are tried when the sensible ones fail.
const mixtures = 12

/** Which side of the box is taken for its width, its depth and its height. */
type Axes = readonly [0 | 1 | 2, 0 | 1 | 2, 0 | 1 | 2]
const upright: Axes = [0, 1, 2]
const onEverySide: readonly Axes[] = [upright, [0, 2, 1], [1, 2, 0]]
const turned = (box: Sides, [x, y, z]: Axes): Sides => [box[x], box[y], box[z]]
/** From the turned box back into the upright one. */
const turnedBack = (point: Sides, axes: Axes): Sides => [
  point[axes.indexOf(0)]!,
  point[axes.indexOf(1)]!,
  point[axes.indexOf(2)]!,
]

/**
 * Other sequences of a few pieces, until all are in the box: what went in nowhere is tried first, again and again, as
 * what is awkward wants the empty box; also with the box on its side while it is filled, when nothing in it must stay
 * up or be kept on top (set up again, everything must rest on something); then mixed ones, the same every time. Null
 * when none does.
 */
export function reordered(inner: Sides, units: readonly Unit[], most: number): readonly Placement[] | null {
  let found: readonly Placement[] | null = null
  const fill = (sorted: readonly Unit[], tight: boolean, axes: Axes): number => {
    const onSide = axes !== upright
    const placed: Placement[] = []
    const count = fillBox(turned(inner, axes), sorted, most, new Uint8Array(sorted.length), {
      placed,
      whole: true,
      tight,
      loose: onSide,
    })
    if (count < sorted.length) return count
    found = onSide
      ? letDown(placed.map(({ unit, at, size }) => ({ unit, at: turnedBack(at, axes), size: turnedBack(size, axes) })))
      : placed
    return found ? count : count - 1
  }
  for (const axes of units.some((unit) => unit.upright || unit.fragile) ? [upright] : onEverySide)
    for (const sequence of sequences) {
      const sorted = [...units].sort(sequence)
      for (let round = 0; round < sorted.length; round++) {
        const placed = fill(sorted, round % 2 === 1, axes)
        if (found) return found
        sorted.unshift(...sorted.splice(placed, 1))
      }
    }
  const mixed = [...units].sort(sequences[0])
  // Two or three pieces have no sequences that were not tried.
  for (let round = 0, number = 1; round < mixtures && mixed.length > 3; round++) {
    for (let i = mixed.length - 1; i > 0; i--) {
      // Numerical Recipes' linear congruential generator.
      number = (Math.imul(number, 1664525) + 1013904223) >>> 0
      const other = number % (i + 1)
      ;[mixed[i], mixed[other]] = [mixed[other]!, mixed[i]!]
    }
    fill(mixed, round % 2 === 1, upright)
    if (found) return found
  }
  return null
}

/**
 * The parcel that takes the largest share of the volume (of the weight, where pieces have no size), and what is left.
 */
function largestShare(
  units: readonly Unit[],
  presets: readonly PackagePreset[],
  room: SortedRoom,
): (Smallest & { readonly rest: readonly Unit[] }) | null {
  let best: { preset: PackagePreset; units: readonly Unit[]; taken: Uint8Array; share: number; place: number } | null =
    null
  // The largest first: a box that cannot hold more than what was found needs no filling. Of equal shares the first
  // preset counts.
  const besides = weightOf(units) + units.length
  for (const place of room.largestFirst) {
    const preset = presets[place]!
    if (!isLeft(preset, room) || (best && innerVolume(preset) * usableShare + besides < best.share)) continue
    for (const sequence of sequences.slice(0, 2)) {
      const sorted = [...units].sort(sequence)
      const taken = takeWithin(preset, sorted, room)
      let share = 0
      for (let i = 0; i < sorted.length; i++) if (taken[i] === 1) share += sorted[i]!.volume + sorted[i]!.weight + 1
      if (share > (best?.share ?? 0) || (best && share === best.share && share > 0 && place < best.place))
        best = { preset, units: sorted, taken, share, place }
    }
  }
  if (!best) return null
  const { preset, taken } = best
  const inside = best.units.filter((_, i) => taken[i] === 1)
  const rest = best.units.filter((_, i) => taken[i] === 0)
  const smallest = smallestFor(inside, presets, room)
  return smallest
    ? { ...smallest, rest }
    : {
        preset,
        parcel: parcelOf(preset.id, preset.outer, weightOf(inside) + preset.tare, contentsOf(best.units, taken, 1)),
        rest,
      }
}

/** Fills one box with as much as its air, its pieces and its weight allow; the first piece may fill it wholly. */
function takeWithin(preset: PackagePreset, units: readonly Unit[], room: Room): Uint8Array {
  const taken = new Uint8Array(units.length)
  const usable = innerVolume(preset) * usableShare
  let volume = 0
  let pieces = 0
  // Beyond the usable share, or the number of pieces, nothing more is offered: marked 2 so that it is passed over.
  for (let i = 0; i < units.length; i++) {
    if ((pieces > 0 && volume + units[i]!.volume > usable) || pieces >= (room.pieces ?? Infinity)) taken[i] = 2
    else if (admits(preset.inner, longestFirst(units[i]!.size))) {
      volume += units[i]!.volume
      pieces++
    }
  }
  fillBox(preset.inner, units, maxGoods(preset, room), taken)
  for (let i = 0; i < units.length; i++) if (taken[i] === 2) taken[i] = 0
  return taken
}

/** Side by side, longest first: the least a box must offer so that each single piece goes in. */
function longestSides(units: readonly Unit[]): Sides {
  const sides: [number, number, number] = [0, 0, 0]
  for (const { size, upright: stands } of units) {
    const sorted = stands ? longestFirst(size) : size
    for (let i = 0; i < 3; i++) if (sorted[i]! > sides[i]!) sides[i] = sorted[i]!
  }
  return sides
}
