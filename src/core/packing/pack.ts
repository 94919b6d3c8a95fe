import { isHandled, type Item } from '@/core/order'
import { formatLength, formatWeight } from '@/core/units'
import { fillBox, type Placement, type Unit } from './fill'
import { innerVolume, longestFirst, parcelOf, type Content, type PackagePreset, type Parcel, type Size } from './parcel'
import { contentsOf, groupsOf, sequences, unitsOf } from './units'

/** What a single parcel may come to, packaging included. */
export interface ParcelLimits {
  readonly weight?: number
  readonly longestSide?: number
  readonly pieces?: number
}

/** What rules and people want of the packing. */
export interface PackingWishes {
  /** The preset to use, as often as it is needed; null for the smallest that do. */
  readonly preset: string | null
  /** Outer size of one parcel without a preset. */
  readonly dimensions?: Size | null
  /** Grams besides the items: corrections and inserts; they go into the first parcel. */
  readonly added: number
  /** Item tags: what carries one shares no parcel with what does not. */
  readonly apart?: readonly string[]
  readonly limits?: ParcelLimits | null
}

export type Packed =
  | { readonly ok: true; readonly parcels: readonly Parcel[] }
  | { readonly ok: false; readonly code: 'no-preset' | 'unknown-preset' | 'too-full' | 'too-many-parcels'; readonly sentence: string }

/** Weight of all items in grams; items of unknown weight count 0 (normalisation has named them as a problem). */
export const itemsWeight = (items: readonly Item[]): number => items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0)

/** Volume of all items in cubic millimetres; items of unknown size count 0. */
export const itemsVolume = (items: readonly Item[]): number =>
  items.reduce((sum, item) => sum + (item.size ? item.size[0] * item.size[1] * item.size[2] : 0) * item.quantity, 0)

// Goods never fill a box wholly; benches count on a tenth of air and padding.
const usableShare = 0.9
/** More parcels than this are no shipment any more: a person splits the order. */
export const mostParcels = 99
// With so few pieces every sequence and both ways to place are tried.
const fewPieces = 16
const hopefulShare = 0.75
// Beyond this many pieces of one line, whole boxes of it are counted before the rest is packed piece by piece.
const manyPieces = 40

/**
 * Packs all items into parcels: into the smallest preset that takes them, else into as few as can be found, largest share
 * first. Goods in their own box are parcels by themselves. What cannot be packed comes back as a sentence with the nearest miss.
 */
export function pack(items: readonly Item[], presets: readonly PackagePreset[], wishes: PackingWishes): Packed {
  if (wishes.dimensions && wishes.preset === null) return { ok: true, parcels: [parcelOf('', wishes.dimensions, itemsWeight(items) + wishes.added, allOf(items))] }
  const decided = wishes.preset === null ? null : presets.find((candidate) => candidate.id === wishes.preset)
  if (decided === undefined) return { ok: false, code: 'unknown-preset', sentence: `The package preset "${wishes.preset}" does not exist: choose another one, or change the rule that names it.` }
  const limits = wishes.limits ?? {}
  if (decided && takesAsDecided(decided, items, wishes)) return { ok: true, parcels: [parcelOf(decided.id, decided.outer, itemsWeight(items) + decided.tare + wishes.added, allOf(items))] }
  const usable = (decided ? [decided] : presets.filter((preset) => preset.stock !== 0)).filter((preset) => withinLimits(preset, limits)).sort((a, b) => (a.cost ?? 0) - (b.cost ?? 0) || innerVolume(a) - innerVolume(b))
  return packInto(items, usable, decided ? [decided] : presets, wishes, limits)
}

function packInto(items: readonly Item[], usable: readonly PackagePreset[], named: readonly PackagePreset[], wishes: PackingWishes, limits: ParcelLimits): Packed {
  const parcels: Parcel[] = ownBoxes(items)
  const left = items.map((item) => item.quantity)
  const tooMany = (): Packed => ({ ok: false, code: 'too-many-parcels', sentence: `This would be more than ${mostParcels} parcels: split the order, or send it as freight.` })
  for (const [index, item] of items.entries()) {
    if (item.quantity <= manyPieces || isHandled(item, 'own box')) continue
    const bulk = fullBoxes(item, index, usable, limits)
    if (bulk === null) return miss(named, unitsOf(item, index, 1), limits)
    if (parcels.length + bulk.length > mostParcels) return tooMany()
    parcels.push(...bulk)
    left[index] = item.quantity - bulk.reduce((sum, parcel) => sum + parcel.contents[0]!.quantity, 0)
  }
  for (const { units } of groupsOf(items, wishes.apart ?? [], left)) {
    const found = packGroup(units, usable, limits)
    if (found === null) return miss(named, units, limits)
    parcels.push(...found)
  }
  if (parcels.length > mostParcels) return tooMany()
  const [head, ...rest] = parcels
  return { ok: true, parcels: head && wishes.added !== 0 ? [parcelOf(head.preset, head.size, head.weight + wishes.added, head.contents), ...rest] : parcels }
}

const allOf = (items: readonly Item[]): Content[] => items.map((item, index) => ({ item: index, quantity: item.quantity }))

/** A person or a rule that names a preset knows how soft the goods are: one is enough while weight, volume and each single piece allow it. */
function takesAsDecided(preset: PackagePreset, items: readonly Item[], { apart = [], limits, added }: PackingWishes): boolean {
  const goods = itemsWeight(items)
  if (goods > preset.limit || itemsVolume(items) > innerVolume(preset) || items.some((item) => isHandled(item, 'own box'))) return false
  if (limits?.weight !== undefined && goods + preset.tare + added > limits.weight) return false
  if (limits?.pieces !== undefined && items.reduce((sum, item) => sum + item.quantity, 0) > limits.pieces) return false
  if (apart.length > 0 && new Set(items.map((item) => apart.filter((tag) => item.tags.includes(tag)).join('\n'))).size > 1) return false
  if (items.length > 1 && items.some((item) => isHandled(item, 'alone'))) return false
  const inner = longestFirst(preset.inner)
  return items.every((item) => !item.size || longestFirst(item.size).every((side, i) => side <= inner[i]!))
}

const withinLimits = (preset: PackagePreset, limits: ParcelLimits): boolean => limits.longestSide === undefined || Math.max(...preset.outer) <= limits.longestSide
/** Grams of goods that a preset may hold. */
const mostGoods = (preset: PackagePreset, limits: ParcelLimits): number => Math.min(preset.limit, (limits.weight ?? Infinity) - preset.tare)

function ownBoxes(items: readonly Item[]): Parcel[] {
  const found: Parcel[] = []
  for (const [index, item] of items.entries())
    if (isHandled(item, 'own box')) for (let i = 0; i < item.quantity && found.length <= mostParcels; i++) found.push(parcelOf('', item.size ?? [1, 1, 1], item.unitWeight ?? 0, [{ item: index, quantity: 1 }]))
  return found
}

/** Whole boxes of one line, by the preset that holds most of it; the rest stays for the others. Null when no preset takes a single piece. */
function fullBoxes(item: Item, index: number, presets: readonly PackagePreset[], limits: ParcelLimits): Parcel[] | null {
  const units = unitsOf(item, index, Math.min(item.quantity, manyPieces * 5))
  let best: { preset: PackagePreset; holds: number } | null = null
  for (const preset of presets) {
    const holds = capacity(preset, units, limits)
    if (holds > (best?.holds ?? 0)) best = { preset, holds }
  }
  if (!best) return null
  const { preset, holds } = best
  const count = Math.min(mostParcels + 1, Math.floor(item.quantity / holds))
  return new Array<Parcel>(count).fill(parcelOf(preset.id, preset.outer, holds * (item.unitWeight ?? 0) + preset.tare, [{ item: index, quantity: holds }]))
}

function capacity(preset: PackagePreset, units: readonly Unit[], limits: ParcelLimits): number {
  const most = units[0]!.volume > 0 ? Math.floor((innerVolume(preset) * usableShare) / units[0]!.volume) : units.length
  const tried = units.slice(0, Math.min(most, limits.pieces ?? Infinity))
  return tried.length === 0 ? 0 : fillBox(preset.inner, tried, mostGoods(preset, limits), new Uint8Array(tried.length))
}

/** Parcels for pieces that may share one; null when some piece goes into no preset. */
function packGroup(units: readonly Unit[], presets: readonly PackagePreset[], limits: ParcelLimits): Parcel[] | null {
  const parcels: Parcel[] = []
  let rest = units
  while (rest.length > 0) {
    const whole = smallestFor(rest, presets, limits)
    if (whole) {
      parcels.push(whole)
      return parcels
    }
    const part = largestShare(rest, presets, limits)
    if (!part) return null
    parcels.push(part.parcel)
    if (parcels.length > mostParcels) return parcels
    rest = part.rest
  }
  return parcels
}

const weightOf = (units: readonly Unit[]): number => units.reduce((sum, unit) => sum + unit.weight, 0)
const volumeOf = (units: readonly Unit[]): number => units.reduce((sum, unit) => sum + unit.volume, 0)

/** All pieces in one parcel: the cheapest, then smallest preset that holds them. */
function smallestFor(units: readonly Unit[], presets: readonly PackagePreset[], limits: ParcelLimits): Parcel | null {
  if (limits.pieces !== undefined && units.length > limits.pieces) return null
  const weight = weightOf(units)
  const volume = volumeOf(units)
  const needed = longestSides(units)
  for (const preset of presets) {
    if (weight > mostGoods(preset, limits) || volume > innerVolume(preset) * usableShare || !admits(preset, needed)) continue
    if (units.length === 1 && !units[0]!.upright ? false : !holds(preset, units, limits)) continue
    return parcelOf(preset.id, preset.outer, weight + preset.tare, contentsOf(units, new Uint8Array(units.length).fill(1), 1))
  }
  return null
}

function holds(preset: PackagePreset, units: readonly Unit[], limits: ParcelLimits): boolean {
  const most = mostGoods(preset, limits)
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
  return units.length <= fewPieces && reordered(units, (sorted, tight, axes) => fillBox(turned(preset.inner, axes), sorted, most, new Uint8Array(sorted.length), { whole: true, tight }))
}

// So many mixed sequences are tried when the sensible ones fail.
const mixtures = 12

/** Which side of the box is taken for its width, its depth and its height. */
type Axes = readonly [0 | 1 | 2, 0 | 1 | 2, 0 | 1 | 2]
const upright: Axes = [0, 1, 2]
const onEverySide: readonly Axes[] = [upright, [0, 2, 1], [1, 2, 0]]
const turned = (box: Size, [x, y, z]: Axes): Size => [box[x], box[y], box[z]]
/** From the turned box back into the upright one. */
const turnedBack = (point: Size, axes: Axes): Size => [point[axes.indexOf(0)]!, point[axes.indexOf(1)]!, point[axes.indexOf(2)]!]

/**
 * Other sequences of a few pieces, until `fill` (which gives how many went in) takes them all: what went in nowhere is tried
 * first, again and again, as what is awkward wants the empty box; also with the box on its side while it is filled, when
 * nothing in it must stay up or be kept on top; then mixed ones, the same every time.
 */
function reordered(units: readonly Unit[], fill: (sorted: readonly Unit[], tight: boolean, axes: Axes) => number): boolean {
  for (const axes of units.some((unit) => unit.upright || unit.fragile) ? [upright] : onEverySide)
    for (const sequence of sequences) {
      const sorted = [...units].sort(sequence)
      for (let round = 0; round < sorted.length; round++) {
        const placed = fill(sorted, round % 2 === 1, axes)
        if (placed === sorted.length) return true
        sorted.unshift(...sorted.splice(placed, 1))
      }
    }
  const mixed = [...units].sort(sequences[0]!)
  // Two or three pieces have no sequences that were not tried.
  for (let round = 0, number = 1; round < mixtures && mixed.length > 3; round++) {
    for (let i = mixed.length - 1; i > 0; i--) {
      // Numerical Recipes' linear congruential generator.
      number = (Math.imul(number, 1664525) + 1013904223) >>> 0
      const other = number % (i + 1)
      ;[mixed[i], mixed[other]] = [mixed[other]!, mixed[i]!]
    }
    if (fill(mixed, round % 2 === 1, upright) === mixed.length) return true
  }
  return false
}

/** The parcel that takes the largest share of the volume (of the weight, where pieces have no size), and what is left. */
function largestShare(units: readonly Unit[], presets: readonly PackagePreset[], limits: ParcelLimits): { parcel: Parcel; rest: readonly Unit[] } | null {
  let best: { preset: PackagePreset; units: readonly Unit[]; taken: Uint8Array; share: number; place: number } | null = null
  // The largest first: a box that cannot hold more than what was found needs no filling. Of equal shares the first preset counts.
  const besides = weightOf(units) + units.length
  for (const place of [...presets.keys()].sort((a, b) => innerVolume(presets[b]!) - innerVolume(presets[a]!) || a - b)) {
    const preset = presets[place]!
    if (best && innerVolume(preset) * usableShare + besides < best.share) continue
    for (const sequence of sequences.slice(0, 2)) {
      const sorted = [...units].sort(sequence)
      const taken = takeWithin(preset, sorted, limits)
      let share = 0
      for (let i = 0; i < sorted.length; i++) if (taken[i] === 1) share += sorted[i]!.volume + sorted[i]!.weight + 1
      if (share > (best?.share ?? 0) || (best && share === best.share && share > 0 && place < best.place)) best = { preset, units: sorted, taken, share, place }
    }
  }
  if (!best) return null
  const { preset, taken } = best
  const inside = best.units.filter((_, i) => taken[i] === 1)
  return { parcel: smallestFor(inside, presets, limits) ?? parcelOf(preset.id, preset.outer, weightOf(inside) + preset.tare, contentsOf(best.units, taken, 1)), rest: best.units.filter((_, i) => taken[i] === 0) }
}

/** Fills one box with as much as its air, its pieces and its weight allow. */
function takeWithin(preset: PackagePreset, units: readonly Unit[], limits: ParcelLimits): Uint8Array {
  const taken = new Uint8Array(units.length)
  const usable = innerVolume(preset) * usableShare
  let volume = 0
  let pieces = 0
  // Beyond the usable share, or the number of pieces, nothing more is offered: marked 2 so that it is passed over.
  for (let i = 0; i < units.length; i++) {
    if (volume + units[i]!.volume > usable || pieces >= (limits.pieces ?? Infinity)) taken[i] = 2
    else {
      volume += units[i]!.volume
      pieces++
    }
  }
  fillBox(preset.inner, units, mostGoods(preset, limits), taken)
  for (let i = 0; i < units.length; i++) if (taken[i] === 2) taken[i] = 0
  return taken
}

/** Side by side, longest first: the least a box must offer so that each single piece goes in. */
function longestSides(units: readonly Unit[]): [number, number, number] {
  const sides: [number, number, number] = [0, 0, 0]
  for (const { size, upright } of units) {
    const sorted = upright ? longestFirst(size) : size
    for (let i = 0; i < 3; i++) if (sorted[i]! > sides[i]!) sides[i] = sorted[i]!
  }
  return sides
}

function admits(preset: PackagePreset, needed: readonly [number, number, number]): boolean {
  const inner = longestFirst(preset.inner)
  return needed[0] <= inner[0] && needed[1] <= inner[1] && needed[2] <= inner[2]
}

/** Why no preset does, by the piece that fits nowhere. */
function miss(presets: readonly PackagePreset[], units: readonly Unit[], limits: ParcelLimits): Packed {
  const fail = (sentence: string): Packed => ({ ok: false, code: presets.length === 1 && presets[0] ? 'too-full' : 'no-preset', sentence })
  if (presets.length === 0) return { ok: false, code: 'no-preset', sentence: 'There is no package preset at all: add one.' }
  const heaviest = units.reduce((most, unit) => Math.max(most, unit.weight), 0)
  const strongest = presets.reduce((a, b) => (mostGoods(b, limits) > mostGoods(a, limits) ? b : a))
  const most = mostGoods(strongest, limits)
  if (heaviest > most) return fail(presets.length === 1 ? `A piece weighs ${formatWeight(heaviest)}, ${formatWeight(heaviest - most)} more than ${strongest.name} takes.` : `No preset takes ${formatWeight(heaviest)}; ${strongest.name} takes most, and it is ${formatWeight(heaviest - most)} over.`)
  const allowed = presets.filter((preset) => withinLimits(preset, limits))
  if (allowed.length === 0) return fail(`No preset keeps to the longest side that a parcel may have (${formatLength(limits.longestSide ?? 0)}).`)
  const longestItem = units.reduce((longest, { size }) => Math.max(longest, size[0], size[1], size[2]), 0)
  const longest = allowed.reduce((a, b) => (Math.max(...b.inner) > Math.max(...a.inner) ? b : a))
  const inner = Math.max(...longest.inner)
  if (longestItem > inner) return fail(`No preset is long enough: the longest item has ${formatLength(longestItem)}, ${longest.name} ${formatLength(inner)}.`)
  const largestItem = units.reduce((a, b) => (b.volume > a.volume ? b : a))
  const largest = allowed.reduce((a, b) => (innerVolume(b) > innerVolume(a) ? b : a))
  return fail(`No preset holds an item of ${largestItem.size.map(formatLength).join(' × ')}; the largest, ${largest.name}, has ${largest.inner.map(formatLength).join(' × ')} inside.`)
}

/**
 * Other ways to pack the same, in more and smaller parcels: for each preset, what comes of it when no larger one is used.
 * Each way once, at most `most` parcels; the way of `pack` is not among them.
 */
export function packSmaller(items: readonly Item[], presets: readonly PackagePreset[], wishes: PackingWishes, first: readonly Parcel[], most = 4): (readonly Parcel[])[] {
  if (wishes.preset !== null || wishes.dimensions || first.reduce((pieces, parcel) => pieces + parcel.contents.reduce((sum, { quantity }) => sum + quantity, 0), 0) < 2) return []
  const seen = new Set([waysKey(first)])
  const found: (readonly Parcel[])[] = []
  const sizes = [...new Set(presets.map((preset) => Math.max(...preset.outer)))].sort((a, b) => b - a)
  for (const longestSide of sizes) {
    const packed = pack(items, presets, { ...wishes, limits: { ...wishes.limits, longestSide: Math.min(longestSide, wishes.limits?.longestSide ?? Infinity) } })
    if (!packed.ok || packed.parcels.length > most || seen.has(waysKey(packed.parcels))) continue
    seen.add(waysKey(packed.parcels))
    found.push(packed.parcels)
  }
  return found
}

const waysKey = (parcels: readonly Parcel[]): string => parcels.map((parcel) => `${parcel.preset} ${parcel.weight}`).sort().join('\n')

/** Where each piece stands in a parcel, for a picture of it; null when it was not packed piece by piece (own size, own box, or a preset that somebody named). */
export function layOut(items: readonly Item[], parcel: Parcel, presets: readonly PackagePreset[]): readonly Placement[] | null {
  const preset = presets.find((candidate) => candidate.id === parcel.preset)
  if (!preset) return null
  const units = parcel.contents.flatMap(({ item, quantity }) => (items[item] ? unitsOf(items[item], item, quantity) : []))
  for (const sequence of sequences) {
    const sorted = [...units].sort(sequence)
    for (const tight of [false, true]) {
      const placed: Placement[] = []
      if (fillBox(preset.inner, sorted, Infinity, new Uint8Array(sorted.length), { placed, tight }) === sorted.length) return placed
    }
  }
  let found: readonly Placement[] | null = null
  reordered(units, (sorted, tight, axes) => {
    const placed: Placement[] = []
    const count = fillBox(turned(preset.inner, axes), sorted, Infinity, new Uint8Array(sorted.length), { placed, whole: true, tight })
    if (count === sorted.length) found = placed.map(({ unit, at, size }) => ({ unit, at: turnedBack(at, axes), size: turnedBack(size, axes) }))
    return count
  })
  return found
}
