import { formatLength, formatWeight } from '@/core/units'
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
  added = 0,
  own = false,
): Packed {
  const fail = (cause: PackingCause, sentence: string): Packed => ({
    ok: false,
    code: presets.length === 1 ? 'too-full' : 'no-preset',
    cause,
    sentence,
  })
  const heaviest = units.reduce((most, unit) => Math.max(most, unit.weight), 0)
  const longestItem = units.reduce((longest, { size }) => Math.max(longest, size[0], size[1], size[2]), 0)
  if (room.longestSide !== undefined && longestItem > room.longestSide)
    return fail(
      'parcelLimits',
      `A piece is ${formatLength(longestItem)} long, ${formatLength(longestItem - room.longestSide)} more than a parcel may be (${formatLength(room.longestSide)}).`,
    )
  if (room.weight !== undefined && heaviest > room.weight)
    return fail(
      'parcelLimits',
      `A piece weighs ${formatWeight(heaviest)}, ${formatWeight(heaviest - room.weight)} more than a parcel may weigh (${formatWeight(room.weight)}).`,
    )
  if (own) return fail('preset', 'The piece is its own box.')
  if (presets.length === 0) return fail('preset', 'There is no package preset at all: add one.')
  const allowed = presets.filter((preset) => withinLimits(preset, room))
  if (allowed.length === 0)
    return fail(
      'parcelLimits',
      `No preset keeps to the longest side that a parcel may have (${formatLength(room.longestSide ?? 0)}).`,
    )
  const there = allowed.filter((preset) => (room.left.get(preset.id) ?? 1) > 0)
  if (there.length === 0)
    return fail(
      'preset',
      `No package is left: ${allowed
        .map(({ name }) => name)
        .slice(0, 4)
        .join(', ')} ${allowed.length === 1 ? 'is' : 'are'} out of stock. Order more, or correct the stock.`,
    )
  const strongest = there.reduce((a, b) => (b.limit > a.limit ? b : a))
  if (heaviest > strongest.limit)
    return fail(
      'preset',
      there.length === 1
        ? `A piece weighs ${formatWeight(heaviest)}, ${formatWeight(heaviest - strongest.limit)} more than ${strongest.name} takes.`
        : `No preset takes ${formatWeight(heaviest)}; ${strongest.name} takes most, and it is ${formatWeight(heaviest - strongest.limit)} over.`,
    )
  const lightest = there.reduce((a, b) => (b.tare < a.tare ? b : a))
  const most = (room.weight ?? Infinity) - lightest.tare
  if (heaviest > most)
    return fail(
      'parcelLimits',
      `A piece weighs ${formatWeight(heaviest)} and its package ${formatWeight(lightest.tare)}, ${formatWeight(heaviest - most)} more than a parcel may weigh (${formatWeight(room.weight ?? 0)}).`,
    )
  if (added > 0 || room.reserve > 0)
    return fail(
      room.weight === undefined ? 'preset' : 'parcelLimits',
      `Corrections and inserts of ${formatWeight(added || room.reserve)} go into no parcel besides the goods${room.weight === undefined ? '' : ` (a parcel may weigh ${formatWeight(room.weight)})`}.`,
    )
  const longest = there.reduce((a, b) => (Math.max(...b.inner) > Math.max(...a.inner) ? b : a))
  const inner = Math.max(...longest.inner)
  if (longestItem > inner)
    return fail(
      there.length < presets.length && room.longestSide !== undefined ? 'parcelLimits' : 'preset',
      `No preset is long enough: the longest item has ${formatLength(longestItem)}, ${longest.name} ${formatLength(inner)}.`,
    )
  const largestItem = units.reduce((a, b) => (b.volume > a.volume ? b : a))
  const largest = there.reduce((a, b) => (innerVolume(b) > innerVolume(a) ? b : a))
  return fail(
    'preset',
    `No preset ${there.length < allowed.length ? 'that is in stock ' : ''}holds an item of ${largestItem.size.map(formatLength).join(' × ')}${largestItem.upright ? ' that must stand upright' : ''}; the largest, ${largest.name}, has ${largest.inner.map(formatLength).join(' × ')} inside.`,
  )
}
