/** Carriers, services and their tariffs as data. Weights in grams, lengths in millimetres, money in minor units of the home currency. */
export interface Carrier {
  readonly id: string
  readonly name: string
}

export interface Zone {
  readonly zone: string
  /** Country of the ship-from location. */
  readonly from: string
  /** Country of the ship-to address. */
  readonly to: string
  /** Only postcodes beginning with one of these; a zone with prefixes goes before one without. */
  readonly prefixes?: readonly string[]
  readonly transitDays: number
}

export interface Band {
  /** Billable weight up to and including. */
  readonly upTo: number
  readonly price: number
}

export interface Service {
  readonly id: string
  readonly carrier: string
  readonly name: string
  /** Locations that hand parcels to this service. */
  readonly locations: readonly string[]
  readonly zones: readonly Zone[]
  /** Weight bands by zone, lightest first. */
  readonly bands: Readonly<Record<string, readonly Band[]>>
  /** Cubic centimetres per kilogram; null when only the scales count. */
  readonly dimensionalDivisor: number | null
  /** Fuel surcharge in per mille of the base price. */
  readonly fuelPermille: number
  readonly limits: { readonly weight: number; readonly longestSide: number; readonly girth: number; readonly postOfficeBox: boolean; readonly dangerousGoods: readonly string[] }
  /** `HH:MM` in the location's time zone. */
  readonly cutOff: string
  /** ISO weekdays. */
  readonly collects: readonly number[]
  readonly delivers: readonly number[]
  readonly tracked: boolean
  /** What else it offers: `cash on delivery`, `live goods`, `duties paid`. */
  readonly offers?: readonly string[]
  /** Fee for a signature; null when the service has none. */
  readonly signatureFee: number | null
  /** Cover that comes with it, the most that can be had, and the price for each started 100.00 above what is included. */
  readonly cover: { readonly included: number; readonly upTo: number; readonly perHundred: number }
}

export interface Location {
  readonly id: string
  readonly name: string
  readonly country: string
  readonly timeZone: string
  /** Pieces in stock by SKU; absent when no stock is kept here and everything counts as there. */
  readonly stock?: Readonly<Record<string, number>>
  readonly address: { readonly company: string; readonly lines: readonly string[]; readonly postcode: string; readonly city: string; readonly phone: string }
}
