import type { Grams, Millimetres, MinorUnits } from '@/core/units'
import type { Day } from '@/core/calendar'
import type { NumberForm } from '@/core/tracking'

/* Carriers, services and their tariffs as data. Weights in grams, lengths in millimetres, money in minor units. */

export interface Carrier {
  readonly id: string
  readonly name: string
  /** The forms of its tracking numbers; without any, all may be its own. */
  readonly numbers?: readonly NumberForm[]
  readonly retired?: boolean
  /** By how many days after a void it has promised the refund; 14 where nothing is said. */
  readonly refundDays?: number
}

export interface Zone {
  readonly zone: string
  /** Country of the ship-from location. */
  readonly from: string
  /** Country of the ship-to address. */
  readonly to: string
  /** Only postcodes beginning with one of these; the longest one that fits goes before shorter ones and before none. */
  readonly prefixes?: readonly string[]
  readonly transitDays: number
}

/** What a service can be asked to offer. */
export const offers = [
  'tracking',
  'signature',
  'cash on delivery',
  'live goods',
  'duties paid',
  'return label',
] as const
export type Offer = (typeof offers)[number]

export const labelFormats = ['pdf', 'png', 'zpl'] as const
export type LabelFormat = (typeof labelFormats)[number]

export interface Service {
  readonly id: string
  readonly carrier: string
  readonly name: string
  /** Locations that hand parcels to this service. */
  readonly locations: readonly string[]
  readonly zones: readonly Zone[]
  readonly limits: {
    readonly weight: Grams
    readonly longestSide: Millimetres
    /** Length plus girth. */
    readonly girth: Millimetres
    /** Cubic millimetres. */
    readonly volume?: number
    readonly postOfficeBox: boolean
    readonly dangerousGoods: readonly string[]
    /** Most that is collected on delivery, in minor units of the home currency. */
    readonly cashOnDelivery?: MinorUnits
    readonly domesticOnly?: boolean
    /** Most parcels in one shipment. */
    readonly parcels?: number
  }
  /** `HH:MM` in the location's time zone. */
  readonly cutOff: string
  /** ISO weekdays on which it collects. */
  readonly collects: readonly number[]
  /** Locations where it collects at other times. */
  readonly collections?: readonly {
    readonly location: string
    readonly cutOff: string
    readonly collects: readonly number[]
  }[]
  readonly delivers: readonly number[]
  readonly offers: readonly Offer[]
  /** Cover that comes with it, and the most that can be had, in minor units of the home currency. */
  readonly cover: { readonly included: MinorUnits; readonly upTo: MinorUnits }
  /** Channels that bear claims for late delivery when this service was used. */
  readonly claimsBorneBy?: readonly string[]
  /** What its carrier owes, and until when it is claimed; absent where nothing is guaranteed. */
  readonly claims?: {
    /** Of the charge, per mille, when it comes after the foreseen day; claimed within days after that day. */
    readonly late?: { readonly permille: number; readonly within: number }
    /** It counts as lost when nobody has seen it for `after` days; claimed within days after it was sent. */
    readonly lost?: { readonly after: number; readonly within: number }
    /** Claimed within days after it was delivered. */
    readonly damaged?: { readonly within: number }
  }
  readonly formats?: readonly LabelFormat[]
  /**
   * The buyer fetches it where it is packed: nothing is sent. It is taken only when it is named, never as the cheapest.
   */
  readonly fetched?: boolean
  /** Nothing goes by it any more; what went by it keeps its name. */
  readonly retired?: boolean
  /** Until when it is switched off, in words; only in a world that was made ready for a moment. */
  readonly off?: string
}

export interface Band {
  /** Billable weight up to and including. */
  readonly upTo: Grams
  readonly price: MinorUnits
}

export interface ZonePrice {
  /** Lightest first. */
  readonly bands: readonly Band[]
  /** Above the last band: its price and `price` for each started `every` grams. */
  readonly step?: { readonly every: Grams; readonly price: MinorUnits }
  /** Added once a shipment. */
  readonly perShipment?: MinorUnits
  /** The base of a shipment is at least this. */
  readonly minimum?: MinorUnits
}

/** What a surcharge is for. Each kind is one line of a quote. */
export const surchargeKinds = [
  'fuel',
  'residential',
  'remote',
  'long',
  'big',
  'heavy',
  'not stackable',
  'dangerous goods',
  'signature',
  'insurance',
  'post-office box',
  'cash on delivery',
  'duties paid',
  'peak',
] as const
export type SurchargeKind = (typeof surchargeKinds)[number]

export interface Surcharge {
  readonly on: SurchargeKind
  /** Once for each parcel that it concerns, or once a shipment. */
  readonly each: 'parcel' | 'shipment'
  readonly amount?: MinorUnits
  /** Per mille of the base; for fuel the one that holds where `months` say nothing. */
  readonly permille?: number
  /** Fuel by month (`YYYY-MM`); a month that is not listed takes the last one before it. */
  readonly months?: Readonly<Record<string, number>>
  /**
   * For each started 100.00 of the tariff's currency: of the value above what is covered (insurance), or collected
   * (cash on delivery).
   */
  readonly perHundred?: MinorUnits
  /** Longest side, length plus girth (mm) or weight (g) above which it is due. */
  readonly over?: Grams | Millimetres
  /** Only in these zones. */
  readonly zones?: readonly string[]
  /** Remote: postcodes by prefix. */
  readonly areas?: readonly { readonly country: string; readonly prefixes: readonly string[] }[]
  /** Dangerous goods: only for these UN numbers. */
  readonly classes?: readonly string[]
  /** First and last day. */
  readonly from?: string
  readonly until?: string
}

/** What a service costs from one day to another. */
export interface Tariff {
  readonly service: string
  readonly from: string
  /** The last day; null when no end is known. */
  readonly until: string | null
  readonly currency: string
  /** Whether the bands price each parcel, or all parcels of a shipment together. */
  readonly basis: 'parcel' | 'shipment'
  /** Cubic centimetres per kilogram; null when only the scales count. */
  readonly dimensionalDivisor: number | null
  /** The billable weight is rounded up to a multiple of this many grams. */
  readonly roundUpTo: Grams
  /** Per mille that the contract takes off the list price of the base. */
  readonly discountPermille: number
  readonly zones: Readonly<Record<string, ZonePrice>>
  readonly surcharges: readonly Surcharge[]
}

/** How many of the parcels of a service to a zone arrived by the day that was foreseen. */
export interface Punctuality {
  readonly service: string
  readonly zone: string
  readonly shipments: number
  readonly onTime: number
}

/** What a channel demands of every service: offers, arrival by its promised day, that it bears claims, a carrier it knows. */
export interface ChannelDemand {
  readonly channel: string
  readonly offers?: readonly Offer[]
  readonly byPromise?: boolean
  /** Only services for which the channel bears claims (`claimsBorneBy`). */
  readonly protected?: boolean
  /** The only carriers that it knows, and can be told of; any when absent. */
  readonly carriers?: readonly string[]
}

export interface Location {
  readonly id: string
  readonly name: string
  readonly country: string
  readonly timeZone: string
  /** Pieces in stock by SKU; absent when no stock is kept here and everything counts as there. */
  readonly stock?: Readonly<Record<string, number>>
  readonly address: {
    readonly company: string
    readonly lines: readonly string[]
    readonly postcode: string
    readonly city: string
    readonly phone: string
  }
  /** ISO weekdays on which parcels are handed over here; every day that services collect when absent. */
  readonly openDays?: readonly number[]
  /** Days (`YYYY-MM-DD`) on which it is closed, besides public holidays. */
  readonly closedOn?: readonly string[]
  /** Whose place it is: what is bought for it is handed over to this partner. Absent for one's own. */
  readonly partner?: string
  /** Parcels are checked at the bench before they are handed over. */
  readonly checked?: boolean
  /** Each is weighed there. */
  readonly weighed?: boolean
  /** Nothing is sent from here any more; what was sent from here keeps its name. */
  readonly retired?: boolean
  /** Until when it is switched off, in words; only in a world that was made ready for a moment. */
  readonly off?: string
}

/** Public holidays by country, as days. */
export type Holidays = ReadonlyMap<string, ReadonlySet<Day>>
