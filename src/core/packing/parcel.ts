import {
  formatLength,
  formatWeight,
  grams,
  type Grams,
  millimetres,
  type Millimetres,
  type MinorUnits,
  type Size,
} from '@/core/units'

/** Sides, or a place, in millimetres, while they are computed with: a sum is a plain number. */
export type Sides = readonly [number, number, number]

/**
 * A box, mailer or tube that stands ready at the benches. Sizes in millimetres, weights in grams, cost in minor units
 * of the home currency.
 */
export interface PackagePreset {
  readonly id: string
  readonly name: string
  readonly inner: Size
  readonly outer: Size
  readonly tare: Grams
  /** The most that the goods inside may weigh. */
  readonly limit: Grams
  readonly cost?: MinorUnits
  /** Pieces that stand at the benches; with 0 it is not taken by itself. Absent when nobody counts them. */
  readonly stock?: number
  /** Nothing is packed in it any more; what was packed in it keeps its name. */
  readonly retired?: boolean
}

/** So many pieces of one order line, by the line's place in the order. */
export interface Content {
  readonly item: number
  readonly quantity: number
}

export interface Parcel {
  /** Empty for a parcel of its own dimensions, and for goods in their own box. */
  readonly preset: string
  /** Outer size, longest side first. */
  readonly size: Size
  /** Goods, tare and correction; never below 0. */
  readonly weight: Grams
  readonly longestSide: Millimetres
  /** Longest side + 2 × the two others, as carriers state this limit ("length plus girth"). */
  readonly girth: Millimetres
  /** Outer volume in cubic millimetres. */
  readonly volume: number
  readonly contents: readonly Content[]
  /** UN numbers inside, and whether nothing may be put on it; absent for all parcels of an order without such goods. */
  readonly dangerousGoods?: readonly string[]
  readonly notStackable?: boolean
}

/** A parcel of an outer size, with goods and all in grams. */
export function parcelOf(preset: string, outer: Sides, weight: number, contents: readonly Content[]): Parcel {
  const [a, b, c] = longestFirst(outer)
  return {
    preset,
    size: [millimetres(a), millimetres(b), millimetres(c)],
    weight: grams(Math.max(0, weight)),
    longestSide: millimetres(a),
    girth: millimetres(a + 2 * (b + c)),
    volume: a * b * c,
    contents,
  }
}

/** The sides of a cuboid, the longest first. */
export function longestFirst<N extends number>([a, b, c]: readonly [N, N, N]): [N, N, N] {
  if (a < b) [a, b] = [b, a]
  if (b < c) [b, c] = [c, b]
  if (a < b) [a, b] = [b, a]
  return [a, b, c]
}

/** Whether a box takes something of this size, whose longest side comes first. */
export function admits(box: Sides, needed: Sides): boolean {
  const inner = longestFirst(box)
  return needed[0] <= inner[0] && needed[1] <= inner[1] && needed[2] <= inner[2]
}

/** What a preset holds, cubic millimetres. */
export const innerVolume = ({ inner }: PackagePreset): number => inner[0] * inner[1] * inner[2]

/** What the parcels of an order come to: the heaviest, longest and biggest of them, and their sums. */
export interface ParcelSums {
  readonly count: number
  readonly weight: Grams
  readonly heaviest: Grams
  readonly longestSide: Millimetres
  readonly girth: Millimetres
  readonly volume: number
}

/**
 * What rules and tariffs ask of all parcels together: weights in grams, sides in millimetres, volume in cubic
 * millimetres.
 */
export function sumParcels(parcels: readonly Parcel[]): ParcelSums {
  let [weight, heaviest, longestSide, girth, volume] = [0, 0, 0, 0, 0]
  for (const parcel of parcels) {
    weight += parcel.weight
    volume += parcel.volume
    heaviest = Math.max(heaviest, parcel.weight)
    longestSide = Math.max(longestSide, parcel.longestSide)
    girth = Math.max(girth, parcel.girth)
  }
  return {
    count: parcels.length,
    weight: weight as Grams,
    heaviest: heaviest as Grams,
    longestSide: longestSide as Millimetres,
    girth: girth as Millimetres,
    volume,
  }
}

/** Parcels in words, equal ones together: `2 × Box M, 4.2 kg`. `nameOf` names a preset. */
export function parcelsPhrase(parcels: readonly Parcel[], nameOf: (preset: string) => string): string {
  const groups = new Map<string, number>()
  for (const parcel of parcels) {
    const name = parcel.preset === '' ? parcel.size.map(formatLength).join(' × ') : nameOf(parcel.preset)
    groups.set(name, (groups.get(name) ?? 0) + 1)
  }
  const names = [...groups].map(([name, count]) => (count === 1 ? name : `${count} × ${name}`)).join(' + ')
  return parcels.length === 0 ? 'not packed' : `${names}, ${formatWeight(sumParcels(parcels).weight)}`
}
