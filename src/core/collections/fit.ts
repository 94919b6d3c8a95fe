import type { Grams } from '@/core/units'

/** What is to be fetched. */
export interface Load {
  readonly parcels: number
  readonly weight: Grams
}

/** Within a fifth, and three parcels, nobody needs to know: a driver has room for that. */
const share = 0.2
const few = 3

/**
 * Whether what was booked fits what is there: null where it does, else a sentence. More than was booked may stay
 * behind; much less is a drive for little.
 */
export function fitOf(booked: Load, there: Load): string | null {
  const slack = Math.max(few, booked.parcels * share)
  const said = (load: Load): string =>
    `${load.parcels} ${load.parcels === 1 ? 'parcel' : 'parcels'}, ${(load.weight / 1000).toFixed(1)} kg`
  if (there.parcels > booked.parcels + slack)
    return `Booked for ${said(booked)}; ${said(there)} are there: some may stay behind.`
  if (there.weight > booked.weight * (1 + share) + 5000 && booked.weight > 0)
    return `Booked for ${said(booked)}; ${said(there)} are there: it is heavier than was said.`
  if (there.parcels === 0 && booked.parcels > 0) return `Booked for ${said(booked)}; nothing stands there.`
  if (there.parcels < booked.parcels - slack && there.parcels < booked.parcels / 2)
    return `Booked for ${said(booked)}; only ${said(there)} are there.`
  return null
}
