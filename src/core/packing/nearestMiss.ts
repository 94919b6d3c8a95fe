import { formatLength, formatWeight, type Grams, grams } from '@/core/units'
import type { Unit } from './fillBox'
import type { Packed, PackingCause } from './pack'
import type { ParcelLimits, Room } from './room'
import { innerVolume, type PackagePreset } from './parcel'

/** Whether a preset, empty, keeps to the longest side that a parcel may have. */
export const withinLimits = (preset: PackagePreset, limits: ParcelLimits): boolean =>
  limits.longestSide === undefined || Math.max(...preset.outer) <= limits.longestSide

/**
 * Why pieces go into no parcel, by the piece that fits nowhere, and by how much it misses: the limits of a parcel, the
 * stock of boxes, weight, length, or room. `added` are grams of corrections and inserts; `own` says that a piece is its
 * own box.
 */
export function miss(
  presets: readonly PackagePreset[],
  units: readonly Unit[],
  room: Room,
  added = grams(0),
  own = false,
): Packed {
  const [cause, sentence] =
    overLimits(units, room) ?? noPackage(presets, room, own) ?? ofThere(presets, units, room, added)
  return { ok: false, code: presets.length === 1 ? 'too-full' : 'no-preset', cause, sentence }
}

type Reason = readonly [cause: PackingCause, sentence: string]

const heaviestOf = (units: readonly Unit[]): number => units.reduce((most, unit) => Math.max(most, unit.weight), 0)
const longestOf = (units: readonly Unit[]): number =>
  units.reduce((longest, { size }) => Math.max(longest, size[0], size[1], size[2]), 0)

/** A piece that is more than any parcel may be. */
function overLimits(units: readonly Unit[], room: Room): Reason | null {
  const [heaviest, longest] = [heaviestOf(units), longestOf(units)]
  if (room.longestSide !== undefined && longest > room.longestSide)
    return [
      'parcelLimits',
      `A piece is ${formatLength(longest)} long, ${formatLength(longest - room.longestSide)} more than a parcel may be (${formatLength(room.longestSide)}).`,
    ]
  if (room.weight !== undefined && heaviest > room.weight)
    return [
      'parcelLimits',
      `A piece weighs ${formatWeight(heaviest)}, ${formatWeight(heaviest - room.weight)} more than a parcel may weigh (${formatWeight(room.weight)}).`,
    ]
  return null
}

const allowedIn = (presets: readonly PackagePreset[], room: Room): PackagePreset[] =>
  presets.filter((preset) => withinLimits(preset, room))
const thereOf = (allowed: readonly PackagePreset[], room: Room): PackagePreset[] =>
  allowed.filter((preset) => (room.left.get(preset.id) ?? 1) > 0)

/** There is no package to try at all: none is known, none is small enough, or none is left. */
function noPackage(presets: readonly PackagePreset[], room: Room, own: boolean): Reason | null {
  if (own) return ['preset', 'The piece is its own box.']
  if (presets.length === 0) return ['preset', 'There is no package preset at all: add one.']
  const allowed = allowedIn(presets, room)
  if (allowed.length === 0)
    return [
      'parcelLimits',
      `No preset keeps to the longest side that a parcel may have (${formatLength(room.longestSide ?? 0)}).`,
    ]
  if (thereOf(allowed, room).length > 0) return null
  const names = allowed.map(({ name }) => name).slice(0, 4)
  return [
    'preset',
    `No package is left: ${names.join(', ')} ${allowed.length === 1 ? 'is' : 'are'} out of stock. Order more, or correct the stock.`,
  ]
}

/** A piece that the packages that are there do not take: by weight, by length, by room. */
function ofThere(presets: readonly PackagePreset[], units: readonly Unit[], room: Room, added: Grams): Reason {
  const allowed = allowedIn(presets, room)
  const there = thereOf(allowed, room)
  const [heaviest, longestItem] = [heaviestOf(units), longestOf(units)]
  const strongest = there.reduce((a, b) => (b.limit > a.limit ? b : a))
  if (heaviest > strongest.limit)
    return [
      'preset',
      there.length === 1
        ? `A piece weighs ${formatWeight(heaviest)}, ${formatWeight(heaviest - strongest.limit)} more than ${strongest.name} takes.`
        : `No preset takes ${formatWeight(heaviest)}; ${strongest.name} takes most, and it is ${formatWeight(heaviest - strongest.limit)} over.`,
    ]
  const lightest = there.reduce((a, b) => (b.tare < a.tare ? b : a))
  const most = (room.weight ?? Infinity) - lightest.tare
  if (heaviest > most)
    return [
      'parcelLimits',
      `A piece weighs ${formatWeight(heaviest)} and its package ${formatWeight(lightest.tare)}, ${formatWeight(heaviest - most)} more than a parcel may weigh (${formatWeight(room.weight ?? 0)}).`,
    ]
  if (added > 0 || room.reserve > 0)
    return [
      room.weight === undefined ? 'preset' : 'parcelLimits',
      `Corrections and inserts of ${formatWeight(added || room.reserve)} go into no parcel besides the goods${room.weight === undefined ? '' : ` (a parcel may weigh ${formatWeight(room.weight)})`}.`,
    ]
  const longest = there.reduce((a, b) => (Math.max(...b.inner) > Math.max(...a.inner) ? b : a))
  const inner = Math.max(...longest.inner)
  if (longestItem > inner)
    return [
      there.length < presets.length && room.longestSide !== undefined ? 'parcelLimits' : 'preset',
      `No preset is long enough: the longest item has ${formatLength(longestItem)}, ${longest.name} ${formatLength(inner)}.`,
    ]
  const largestItem = units.reduce((a, b) => (b.volume > a.volume ? b : a))
  const largest = there.reduce((a, b) => (innerVolume(b) > innerVolume(a) ? b : a))
  return [
    'preset',
    `No preset ${there.length < allowed.length ? 'that is in stock ' : ''}holds an item of ${largestItem.size.map(formatLength).join(' × ')}${largestItem.upright ? ' that must stand upright' : ''}; the largest, ${largest.name}, has ${largest.inner.map(formatLength).join(' × ')} inside.`,
  ]
}
