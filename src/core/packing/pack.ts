import { type Grams, grams, millimetres, type Size } from '@/core/units'
import { isHandled } from '@/core/order'
import { fillBox, type Placement } from './fillBox'
import type { Goods } from './goods'
import { marked, tareIn, withAdded } from './addedWeight'
import { miss, withinLimits } from './nearestMiss'
import {
  admits,
  type Content,
  innerVolume,
  longestFirst,
  type PackagePreset,
  type Parcel,
  parcelOf,
  type Sides,
} from './parcel'
import { apartKey, groupsOf, ranksOf, sequences, unitsOf } from './pieces'
import { fullBoxes, manyPieces, packGroup, reordered } from './packGroup'
import { maxParcels, type ParcelLimits, type SortedRoom } from './room'

/** What rules and people want of the packing. */
export interface PackingWishes {
  /** The preset to use, as often as it is needed; null for the smallest that do. */
  readonly preset: string | null
  /** Outer size of each parcel without a preset: it is believed to hold what it is given. */
  readonly dimensions?: Size | null
  /** Grams besides the items: corrections and inserts; see `withAdded`. */
  readonly added: Grams
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

/** A size that somebody gives, as a preset without walls: what it holds is not asked. */
const givenSize = (outer: Size): PackagePreset => ({
  id: '',
  name: 'the given size',
  inner: [millimetres(100_000), millimetres(100_000), millimetres(100_000)],
  outer,
  tare: grams(0),
  limit: grams(Infinity),
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
  const packed = packInto(items, own, decided !== null, wishes, grams(0))
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
    const found = miss([], unitsOf(item, 0, 1), { ...limits, reserve: grams(0), left: new Map() }, grams(0), true)
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
  reserve: Grams,
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
function goesIn({ inner }: PackagePreset, size: Sides, upright: boolean): boolean {
  if (!upright) return admits(inner, longestFirst(size))
  const [width, depth] = inner[0] >= inner[1] ? [inner[0], inner[1]] : [inner[1], inner[0]]
  return size[2] <= inner[2] && Math.max(size[0], size[1]) <= width && Math.min(size[0], size[1]) <= depth
}

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
      limits: {
        ...wishes.limits,
        longestSide: millimetres(Math.min(longestSide, wishes.limits?.longestSide ?? Infinity)),
      },
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
