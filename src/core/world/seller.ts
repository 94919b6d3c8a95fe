import type { UnitSystem } from '@/core/units'

/** What is in the printers. */
export const papers = ['A4', 'Letter'] as const
export type Paper = (typeof papers)[number]

/** Who sells, and how they are used to reading. */
export interface Seller {
  /** As it stands on the tracking page and in letters; empty until it is said. */
  readonly name: string
  /** From which address letters to customers come; empty until it is said. */
  readonly mail: string
  readonly units: UnitSystem
  readonly paper: Paper
  /**
   * The GS1 company prefix, 4 to 12 digits, of which pallets and cages get their codes; absent where the seller has
   * none.
   */
  readonly gs1Prefix?: string
}

export const usualSeller: Seller = { name: '', mail: '', units: 'metric', paper: 'A4' }
