import type { UnitSystem } from '@/core/units'

/** What is in the printers. */
export const papers = ['A4', 'Letter'] as const
export type Paper = (typeof papers)[number]

/** Who sells, and how they are used to reading. */
export interface Seller {
  /** As it stands on the tracking page and in letters; empty until it is said. */
  readonly name: string
  readonly units: UnitSystem
  readonly paper: Paper
}

export const usualSeller: Seller = { name: '', units: 'metric', paper: 'A4' }
