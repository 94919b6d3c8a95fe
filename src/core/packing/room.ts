import type { Grams, Millimetres } from '@/core/units'
import type { PackagePreset } from './parcel'

/** What a single parcel may come to, packaging, corrections and inserts included. */
export interface ParcelLimits {
  readonly weight?: Grams
  readonly longestSide?: Millimetres
  readonly pieces?: number
}

/** More parcels than this are no shipment any more: a person splits the order. */
export const maxParcels = 99
/**
 * What a parcel may hold: the limits, grams that are kept free for what is added, and how many of each preset there
 * are.
 */
export interface Room extends ParcelLimits {
  readonly reserve: Grams
  /** Pieces of each preset that are left; without an entry nobody counts them. */
  readonly left: Map<string, number>
}

/** The room there is, with the places of the presets that may be used, the largest first; of equal ones the first. */
export interface SortedRoom extends Room {
  readonly largestFirst: readonly number[]
}

/** Grams of goods that a preset may hold. */
export const maxGoods = (preset: PackagePreset, { weight, reserve }: Pick<Room, 'weight' | 'reserve'>): number =>
  Math.min(preset.limit, (weight ?? Infinity) - preset.tare) - reserve

/** Whether a preset is still there to be used. */
export const isLeft = (preset: PackagePreset, { left }: Room): boolean => (left.get(preset.id) ?? 1) > 0

/** Uses pieces of a preset. */
export function take(preset: PackagePreset, { left }: Room, pieces = 1): void {
  const now = left.get(preset.id)
  if (now !== undefined) left.set(preset.id, now - pieces)
}
