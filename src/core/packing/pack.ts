import { type Grams } from '@/core/units'
import { isHandled } from '@/core/order'
import { fillBox, letDown, type Placement, type Unit } from './fillBox'
import type { Goods } from './goods'
import { marked, tareIn, withAdded } from './addedWeight'
import { miss, withinLimits } from './nearestMiss'
import { type Content, innerVolume, longestFirst, type PackagePreset, type Parcel, parcelOf, type Size } from './parcel'
import { apartKey, contentsOf, groupsOf, ranksOf, sequences, unitsOf } from './pieces'

/** What a single parcel may come to, packaging, corrections and inserts included. */
export interface ParcelLimits {
  readonly weight?: number
  readonly longestSide?: number
  readonly pieces?: number
}

/** What rules and people want of the packing. */
export interface PackingWishes {
  /** The preset to use, as often as it is needed; null for the smallest that do. */
  readonly preset: string | null
  /** Outer size of each parcel without a preset: it is believed to hold what it is given. */
  readonly dimensions?: Size | null
  /** Grams besides the items: corrections and inserts; see `withAdded`. */
  readonly added: number
  /** Item tags: what carries one shares no parcel with what does not. */
  readonly apart?: readonly string[]
  readonly limits?: ParcelLimits | null
}

/** What keeps an order from being packed: the presets themselves, or the limits that a rule or a person sets. */
export type PackingCause = 'preset' | 'parcelLimits'

export type Packed =
  | { readonly ok: true; readonly parcels: readonly Parcel[] }
  | {
      readonly ok: false
      readonly code: 'no-preset' | 'unknown-preset' | 'too-full' | 'too-many-parcels'
      readonly cause: PackingCause
      readonly sentence: string
    }

/** Weight of all items in grams; items of unknown weight count 0 (normalisation has named them as a problem). */
export const itemsWeight = (items: readonly Goods[]): Grams =>
  items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0) as Grams

/** Volume of all items in cubic millimetres; items of unknown size count 0. */
export const itemsVolume = (items: readonly Goods[]): number =>
  items.reduce((sum, item) => sum + (item.size ? item.size[0] * item.size[1] * item.size[2] : 0) * item.quantity, 0)

// Several goods never fill a box wholly; benches count on a tenth of air and padding. A single piece may.
const usableShare = 0.9
/** More parcels than this are no shipment any more: a person splits the order. */
export const maxParcels = 99
// With so few pieces every sequence and both ways to place are tried.
const fewPieces = 16
const hopefulShare = 0.75
// Beyond this many pieces of one line, whole boxes of it are counted before the rest is packed piece by piece.
const manyPieces = 40
// Up to so many pieces, no other way to share them out takes fewer parcels.
const exactPieces = 6

/**
 * What a parcel may hold: the limits, grams that are kept free for what is added, and how many of each preset there
 * are.
 */
export interface Room extends ParcelLimits {
  readonly reserve: number
  /** Pieces of each preset that are left; without an entry nobody counts them. */
  readonly left: Map<string, number>
}

/** The room there is, with the places of the presets that may be used, the largest first; of equal ones the first. */
interface SortedRoom extends Room {
  readonly largestFirst: readonly number[]
}

/** A size that somebody gives, as a preset without walls: what it holds is not asked. */
const givenSize = (outer: Size): PackagePreset => ({
  id: '',
  name: 'the given size',
  inner: [100_000, 100_000, 100_000],
  outer,
  tare: 0,
  limit: Infinity,
})

/**
 * Packs all items into parcels: into the smallest preset that takes them, else into as few as can be found, largest
 * share first. Goods in their own box are parcels by themselves. What cannot be packed comes back as a sentence with
 * the nearest miss. The same items in another order are packed the same.
 */
export function pack(items: readonly Goods[], presets: readonly PackagePreset[], wishes: PackingWishes): Packed {
  const limits = wishes.limits ?? {}
  const { preset: wanted, dimensions, added } = wishes
  const ownSize = dimensions ? givenSize(dimensions) : null
  const decided = wanted === null ? ownSize : presets.find((candidate) => candidate.id === wanted)
  if (decided === undefined)
    return {
      ok: false,
      code: 'unknown-preset',
      cause: 'preset',
      sentence: `The package preset "${wanted}" does not exist: choose another one, or change the rule that names it.`,
    }
  const heavy = overweight(items, limits)
  if (heavy) return heavy
  if (decided && takesAsDecided(decided, items, wishes)) {
    const whole = parcelOf(decided.id, decided.outer, itemsWeight(items) + decided.tare, allOf(items))
    return {
      ok: true,
      parcels: marked(
        withAdded(
          [whole],
          added,
          () => Infinity,
          () => decided.tare,
        )!,
        items,
      ),
    }
  }
  const own = decided ? [decided] : presets
  const packed = packInto(items, own, decided !== null, wishes, 0)
  if (!packed.ok || added === 0) return packed.ok ? { ok: true, parcels: marked(packed.parcels, items) } : packed
  const tareOf = tareIn(own)
  const presetOf = (parcel: Parcel): PackagePreset | undefined => own.find(({ id }) => id === parcel.preset)
  const roomIn = (parcel: Parcel): number =>
    Math.min(
      (limits.weight ?? Infinity) - parcel.weight,
      parcel.preset === '' && !dimensions
        ? Infinity
        : (presetOf(parcel)?.limit ?? Infinity) - (parcel.weight - tareOf(parcel)),
    )
  const loaded = withAdded(packed.parcels, added, roomIn, tareOf)
  if (loaded) return { ok: true, parcels: marked(loaded, items) }
  // With room kept free in each parcel there is one that takes it all.
  const roomy = packInto(items, own, decided !== null, wishes, added)
  const again = roomy.ok ? withAdded(roomy.parcels, added, roomIn, tareOf) : null
  if (again) return { ok: true, parcels: marked(again, items) }
  return roomy.ok ? miss(own, unitsOf(items[0]!, 0, 1), { ...limits, reserve: added, left: new Map() }, added) : roomy
}

/** A piece in its own box that is more than a parcel may be. */
function overweight(items: readonly Goods[], limits: ParcelLimits): Packed | null {
  for (const item of items) {
    if (!isHandled(item, 'own box')) continue
    const found = miss([], unitsOf(item, 0, 1), { ...limits, reserve: 0, left: new Map() }, 0, true)
    if (!found.ok && found.cause === 'parcelLimits') return found
  }
  return null
}

interface SortedPresets {
  /** Those that keep to the limit, the cheapest first, then the smallest. */
  readonly usable: readonly PackagePreset[]
  readonly largestFirst: readonly number[]
}
// A world's presets are sorted once for each longest side that is asked for, not for every order.
const presetsSorted = new WeakMap<readonly PackagePreset[], Map<number | undefined, SortedPresets>>()
const maxSorted = 200

function sortedPresets(own: readonly PackagePreset[], limits: ParcelLimits): SortedPresets {
  let known = presetsSorted.get(own)
  if (!known) presetsSorted.set(own, (known = new Map<number | undefined, SortedPresets>()))
  let found = known.get(limits.longestSide)
  if (!found) {
    const usable = own
      .filter((preset) => withinLimits(preset, limits))
      .sort((a, b) => (a.cost ?? 0) - (b.cost ?? 0) || innerVolume(a) - innerVolume(b))
    const largestFirst = [...usable.keys()].sort((a, b) => innerVolume(usable[b]!) - innerVolume(usable[a]!) || a - b)
    if (known.size >= maxSorted) known.clear()
    known.set(limits.longestSide, (found = { usable, largestFirst }))
  }
  return found
}

function packInto(
  items: readonly Goods[],
  own: readonly PackagePreset[],
  named: boolean,
  wishes: PackingWishes,
  reserve: number,
): Packed {
  const limits = wishes.limits ?? {}
  const { usable, largestFirst } = sortedPresets(own, limits)
  const room: SortedRoom = {
    ...limits,
    reserve,
    left: new Map(named ? [] : own.flatMap(({ id, stock }) => (stock === undefined ? [] : [[id, stock] as const]))),
    largestFirst,
  }
  const left = items.map((item) => item.quantity)
  const ranks = ranksOf(items)
  const lines = [...items.keys()].sort((a, b) => ranks[a]! - ranks[b]!)
  const parcels: Parcel[] = ownBoxes(items, lines)
  const tooMany = (): Packed => ({
    ok: false,
    code: 'too-many-parcels',
    cause: 'preset',
    sentence: `This would be more than ${maxParcels} parcels: split the order, or send it as freight.`,
  })
  for (const index of lines) {
    const item = items[index]!
    while (left[index]! > manyPieces && !isHandled(item, 'own box')) {
      const bulk = fullBoxes(item, index, left[index]!, usable, room)
      if (bulk === null) return miss(own, unitsOf(item, index, 1), room)
      if (parcels.length + bulk.length > maxParcels) return tooMany()
      parcels.push(...bulk)
      const gone = bulk.reduce((sum, parcel) => sum + parcel.contents[0]!.quantity, 0)
      if (gone === 0) break
      left[index]! -= gone
    }
  }
  for (const { units } of groupsOf(items, wishes.apart ?? [], left, ranks)) {
    const found = packGroup(units, usable, room)
    if (found === null) return miss(own, units, room)
    parcels.push(...found)
    if (parcels.length > maxParcels) return tooMany()
  }
  return { ok: true, parcels }
}

const allOf = (items: readonly Goods[]): Content[] =>
  items.map((item, index) => ({ item: index, quantity: item.quantity }))

/**
 * A person or a rule that names a preset, or gives a size, knows how soft the goods are: one is enough while weight,
 * volume and each single piece allow it.
 */
function takesAsDecided(
  preset: PackagePreset,
  items: readonly Goods[],
  { apart = [], limits, added }: PackingWishes,
): boolean {
  const goods = itemsWeight(items) + Math.max(0, added)
  if (
    goods > preset.limit ||
    itemsVolume(items) > innerVolume(preset) ||
    items.some((item) => isHandled(item, 'own box'))
  )
    return false
  if (limits?.weight !== undefined && goods + preset.tare > limits.weight) return false
  if (!withinLimits(preset, limits ?? {})) return false
  if (limits?.pieces !== undefined && items.reduce((sum, item) => sum + item.quantity, 0) > limits.pieces) return false
  if (apart.length > 0 && new Set(items.map((item) => apartKey(item, apart))).size > 1) return false
  if (items.some((item) => isHandled(item, 'alone')) && new Set(items.map(({ sku }) => sku)).size > 1) return false
  return items.every((item) => !item.size || goesIn(preset, item.size, isHandled(item, 'this side up')))
}

/** Whether a single piece goes into a box; what must stand upright is only turned about the vertical. */
function goesIn({ inner }: PackagePreset, size: Size, upright: boolean): boolean {
  if (!upright) return admits(inner, longestFirst(size))
  const [width, depth] = inner[0] >= inner[1] ? [inner[0], inner[1]] : [inner[1], inner[0]]
  return size[2] <= inner[2] && Math.max(size[0], size[1]) <= width && Math.min(size[0], size[1]) <= depth
}

/** Grams of goods that a preset may hold. */
export const maxGoods = (preset: PackagePreset, { weight, reserve }: Pick<Room, 'weight' | 'reserve'>): number =>
  Math.min(preset.limit, (weight ?? Infinity) - preset.tare) - reserve

function ownBoxes(items: readonly Goods[], lines: readonly number[]): Parcel[] {
  const found: Parcel[] = []
  for (const index of lines) {
    const item = items[index]!
    if (isHandled(item, 'own box'))
      for (let i = 0; i < item.quantity && found.length <= maxParcels; i++)
        found.push(parcelOf('', item.size ?? [1, 1, 1], item.unitWeight ?? 0, [{ item: index, quantity: 1 }]))
  }
  return found
}

const isLeft = (preset: PackagePreset, { left }: Room): boolean => (left.get(preset.id) ?? 1) > 0
function take(preset: PackagePreset, { left }: Room, pieces = 1): void {
  const now = left.get(preset.id)
  if (now !== undefined) left.set(preset.id, now - pieces)
}

/**
 * Whole boxes of one line, by the preset that holds most of it; the rest stays for the others. Null when no preset
 * takes a single piece.
 */
function fullBoxes(
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
function packGroup(units: readonly Unit[], presets: readonly PackagePreset[], room: SortedRoom): Parcel[] | null {
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
const turned = (box: Size, [x, y, z]: Axes): Size => [box[x], box[y], box[z]]
/** From the turned box back into the upright one. */
const turnedBack = (point: Size, axes: Axes): Size => [
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
function reordered(inner: Size, units: readonly Unit[], most: number): readonly Placement[] | null {
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
function longestSides(units: readonly Unit[]): Size {
  const sides: [number, number, number] = [0, 0, 0]
  for (const { size, upright: stands } of units) {
    const sorted = stands ? longestFirst(size) : size
    for (let i = 0; i < 3; i++) if (sorted[i]! > sides[i]!) sides[i] = sorted[i]!
  }
  return sides
}

function admits(box: Size, needed: Size): boolean {
  const inner = longestFirst(box)
  return needed[0] <= inner[0] && needed[1] <= inner[1] && needed[2] <= inner[2]
}

/**
 * Other ways to pack the same, in more and smaller parcels: for each preset, what comes of it when no longer one is
 * used. Each way once, at most `most` parcels; the way of `pack` is not among them.
 */
export function packSmaller(
  items: readonly Goods[],
  presets: readonly PackagePreset[],
  wishes: PackingWishes,
  first: readonly Parcel[],
  most = 4,
): (readonly Parcel[])[] {
  if (
    wishes.preset !== null ||
    wishes.dimensions ||
    first.reduce((pieces, parcel) => pieces + parcel.contents.reduce((sum, { quantity }) => sum + quantity, 0), 0) < 2
  )
    return []
  const seen = new Set([waysKey(first)])
  const found: (readonly Parcel[])[] = []
  const sizes = [...new Set(presets.map((preset) => Math.max(...preset.outer)))].sort((a, b) => b - a)
  // One parcel that takes it all is the first choice still when only longer presets are forbidden.
  const unchanged = first.length === 1 ? first[0]!.longestSide : Infinity
  for (const longestSide of sizes) {
    if (longestSide >= unchanged) continue
    const packed = pack(items, presets, {
      ...wishes,
      limits: { ...wishes.limits, longestSide: Math.min(longestSide, wishes.limits?.longestSide ?? Infinity) },
    })
    // What does not go in without longer ones does not go in with still shorter ones.
    if (!packed.ok) break
    if (packed.parcels.length > most || seen.has(waysKey(packed.parcels))) continue
    seen.add(waysKey(packed.parcels))
    found.push(packed.parcels)
  }
  return found
}

const waysKey = (parcels: readonly Parcel[]): string =>
  parcels
    .map((parcel) => `${parcel.preset} ${parcel.weight}`)
    .sort()
    .join('\n')

/**
 * Where each piece stands in a parcel, for a picture of it; null when it was not packed piece by piece (own size, own
 * box, or a preset that somebody named).
 */
export function layOut(
  items: readonly Goods[],
  parcel: Parcel,
  presets: readonly PackagePreset[],
): readonly Placement[] | null {
  const preset = presets.find((candidate) => candidate.id === parcel.preset)
  if (!preset) return null
  const units = parcel.contents.flatMap(({ item, quantity }) =>
    items[item] ? unitsOf(items[item], item, quantity) : [],
  )
  for (const sequence of sequences) {
    const sorted = [...units].sort(sequence)
    for (const tight of [false, true]) {
      const placed: Placement[] = []
      if (fillBox(preset.inner, sorted, Infinity, new Uint8Array(sorted.length), { placed, tight }) === sorted.length)
        return placed
    }
  }
  return reordered(preset.inner, units, Infinity)
}
