import type { Item } from '@/core/order'
import { formatLength, formatWeight, grams, millimetres, type Grams, type Millimetres } from '@/core/units'

type Size = readonly [number, number, number]

/** A box, mailer or tube that stands ready at the benches. Sizes in millimetres, weights in grams. */
export interface PackagePreset {
  readonly id: string
  readonly name: string
  readonly inner: Size
  readonly outer: Size
  readonly tare: number
  /** The most that the goods inside may weigh. */
  readonly limit: number
}

export interface Parcel {
  /** Empty for a parcel of its own dimensions. */
  readonly preset: string
  /** Outer size, longest side first. */
  readonly size: readonly [Millimetres, Millimetres, Millimetres]
  /** Goods, tare and correction; never below 0. */
  readonly weight: Grams
  readonly longestSide: Millimetres
  /** Longest side + 2 × the two others, as carriers state this limit ("length plus girth"). */
  readonly girth: Millimetres
  /** Outer volume in cubic millimetres. */
  readonly volume: number
}

export type Packed =
  | { readonly ok: true; readonly parcel: Parcel }
  | { readonly ok: false; readonly code: 'no-preset' | 'unknown-preset' | 'too-full'; readonly sentence: string }

/** Weight of all items in grams; items of unknown weight count 0 (normalisation has named them as a problem). */
export const itemsWeight = (items: readonly Item[]): number => items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0)

/** Volume of all items in cubic millimetres; items of unknown size count 0. */
export const itemsVolume = (items: readonly Item[]): number =>
  items.reduce((sum, item) => sum + (item.size ? item.size[0] * item.size[1] * item.size[2] : 0) * item.quantity, 0)

// Goods never fill a box wholly; benches count on a tenth of air and padding.
const usableShare = 0.9

/**
 * Packs all items into one parcel: into the preset that was decided, or else into the smallest that takes them
 * (by inner volume, longest sides and weight limit). `correction` in grams is added to the weight.
 */
export function pack(items: readonly Item[], presets: readonly PackagePreset[], decided: string | null, correction: number): Packed {
  const goods = itemsWeight(items)
  if (decided !== null) {
    const preset = presets.find((candidate) => candidate.id === decided)
    if (!preset) return { ok: false, code: 'unknown-preset', sentence: `The package preset "${decided}" does not exist: choose another one, or change the rule that names it.` }
    if (goods > preset.limit) return { ok: false, code: 'too-full', sentence: `The items weigh ${formatWeight(goods)}, ${formatWeight(goods - preset.limit)} more than ${preset.name} takes.` }
    return { ok: true, parcel: parcelIn(preset, goods + correction) }
  }
  const volume = itemsVolume(items)
  const needed = longestSides(items)
  let best: PackagePreset | null = null
  for (const preset of presets)
    if (goods <= preset.limit && fits(preset, needed, volume) && (!best || innerVolume(preset) < innerVolume(best))) best = preset
  if (best) return { ok: true, parcel: parcelIn(best, goods + correction) }
  return { ok: false, code: 'no-preset', sentence: nearestMiss(presets, goods, volume, needed) }
}

/** A parcel of a size that was decided by itself, without a preset: the goods, and `correction` grams. */
export const ownParcel = (items: readonly Item[], size: Size, correction: number): Parcel => parcelIn({ id: '', outer: size, tare: 0 }, itemsWeight(items) + correction)

function parcelIn(preset: { readonly id: string; readonly outer: Size; readonly tare: number }, contents: number): Parcel {
  const [a, b, c] = [...preset.outer].sort((x, y) => y - x) as [number, number, number]
  return {
    preset: preset.id,
    size: [millimetres(a), millimetres(b), millimetres(c)],
    weight: grams(Math.max(0, contents + preset.tare)),
    longestSide: millimetres(a),
    girth: millimetres(a + 2 * (b + c)),
    volume: a * b * c,
  }
}

const innerVolume = (preset: PackagePreset): number => preset.inner[0] * preset.inner[1] * preset.inner[2]

/** Side by side, longest first: the least a box must offer so that each single item goes in. */
function longestSides(items: readonly Item[]): Size {
  const sides: [number, number, number] = [0, 0, 0]
  for (const item of items) {
    if (!item.size) continue
    const sorted = [...item.size].sort((x, y) => y - x)
    for (let i = 0; i < 3; i++) sides[i] = Math.max(sides[i]!, sorted[i]!)
  }
  return sides
}

function fits(preset: PackagePreset, needed: Size, volume: number): boolean {
  const inner = [...preset.inner].sort((x, y) => y - x)
  return needed.every((side, i) => side <= inner[i]!) && volume <= innerVolume(preset) * usableShare
}

function nearestMiss(presets: readonly PackagePreset[], goods: number, volume: number, needed: Size): string {
  if (presets.length === 0) return 'There is no package preset at all: add one.'
  const largest = presets.reduce((a, b) => (innerVolume(b) > innerVolume(a) ? b : a))
  const strongest = presets.reduce((a, b) => (b.limit > a.limit ? b : a))
  if (goods > strongest.limit) return `No preset takes ${formatWeight(goods)}; ${strongest.name} takes most, and it is ${formatWeight(goods - strongest.limit)} over.`
  const longest = presets.reduce((a, b) => (Math.max(...b.inner) > Math.max(...a.inner) ? b : a))
  const inner = Math.max(...longest.inner)
  if (needed[0] > inner) return `No preset is long enough: the longest item has ${formatLength(needed[0])}, ${longest.name} ${formatLength(inner)}.`
  return `No preset holds the items together (${Math.ceil(volume / 1e6)} l); the largest, ${largest.name}, holds ${Math.floor((innerVolume(largest) * usableShare) / 1e6)} l.`
}
