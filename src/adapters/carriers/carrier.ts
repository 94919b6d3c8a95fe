import type { Service, Tariff } from '@/core/rating'
import type { DeclaredItem, LabelAddress } from '@/core/papers'
import type { TrackingStatus } from '@/core/tracking'
import type { Money, Grams } from '@/core/units'
import type { CallResult } from '../http'

/** What a carrier is told to make a label. */
export interface LabelRequest {
  readonly service: string
  readonly fromCountry: string
  readonly toCountry: string
  readonly toPostcode: string
  readonly from: LabelAddress
  readonly to: LabelAddress
  /**
   * Each with its own dangerous goods, and whether nothing may be put on it; absent where no parcel of the order has
   * any.
   */
  readonly parcels: readonly {
    readonly weight: Grams
    readonly size: readonly number[]
    readonly dangerousGoods?: readonly string[]
    readonly notStackable?: boolean
  }[]
  readonly reference: string
  /** The day on which it is handed over. */
  readonly shipOn: string
  readonly signature: boolean
  /** The home currency (ISO 4217), in whose minor units both are; absent for labels of before it was told. */
  readonly currency?: string
  readonly insured: number
  readonly toCollect: number
  readonly residential: boolean
  readonly postOfficeBox: boolean
  readonly notStackable: boolean
  readonly dangerousGoods: readonly string[]
  readonly duties: 'DAP' | 'DDP'
  /** A label for each parcel to come back with; charged when it is used. */
  readonly returnLabel: boolean
  /** What is inside, for customs; null where there are none. */
  readonly customs: readonly DeclaredItem[] | null
}

/** A label that is stored and printed as it came. */
export interface DrawnLabel {
  readonly format: 'pdf' | 'zpl'
  readonly content: Buffer
}

export interface BoughtLabel {
  /** One for each parcel, in their order. */
  readonly parcels: readonly {
    readonly trackingNumber: string
    readonly symbology: 'code128' | 'gs1-128'
    readonly routing: string
    readonly returnNumber?: string
    /** The label as the carrier drew it; absent where it is drawn here. */
    readonly document?: DrawnLabel
    readonly returnDocument?: DrawnLabel
  }[]
  /** What the carrier charges, in its own currency. */
  readonly charged: Money
}

/** What a carrier is told to let a buyer send something back. */
export interface ReturnRequest {
  readonly service: string
  readonly from: LabelAddress
  readonly fromCountry: string
  readonly fromPostcode: string
  readonly to: LabelAddress
  readonly toCountry: string
  readonly toPostcode: string
  /** Grams, and millimetres. */
  readonly weight: Grams
  readonly size: readonly number[]
  /** UN numbers. */
  readonly dangerousGoods: readonly string[]
  readonly reference: string
  /** What is inside, for customs; null where there are none. */
  readonly customs: readonly DeclaredItem[] | null
}
/** A label with which a buyer sends something back; nothing is charged until it is used. */
export interface ReturnLabel {
  readonly trackingNumber: string
  readonly symbology: 'code128' | 'gs1-128'
  readonly routing: string
  /** Shown at the carrier's counter, where it is printed; empty where the buyer prints it. */
  readonly code: string
  /** The last day on which it can be used, `YYYY-MM-DD`. */
  readonly validUntil: string
  /** What is charged once it is used. */
  readonly charge: Money
  readonly document?: DrawnLabel
}

export interface CarrierEvent {
  readonly id: string
  readonly trackingNumber: string
  readonly at: string
  readonly status: TrackingStatus
  readonly place: string
  readonly text: string
}

/** What an account may use: the carrier's services, with where they go and what they cost. */
export interface OfferedServices {
  /** At no location yet: that is the seller's to say. */
  readonly services: readonly Service[]
  readonly tariffs: readonly Tariff[]
}

/** Parcels that were given to a driver, as the carrier is told of them. */
export interface ManifestNote {
  /** Names the manifest for both sides. */
  readonly reference: string
  /** When the door was closed. */
  readonly closedAt: string
  readonly country: string
  readonly postcode: string
  /** Who signed for them; empty where nobody did. */
  readonly driver: string
  readonly parcels: readonly { readonly trackingNumber: string; readonly container: string }[]
}

/** When a driver may come, and what that costs. */
export interface CollectionWindow {
  /** `HH:MM` where the parcels are. */
  readonly from: string
  readonly until: string
  /** Null where it is a part of the agreement. */
  readonly charge: Money | null
}
/** Where and when. */
export type CollectionPlace = Pick<CollectionWish, 'day' | 'country' | 'postcode'>
/** On what terms a carrier collects on a day. */
export interface CollectionTerms {
  /** None on days on which it does not come. */
  readonly windows: readonly CollectionWindow[]
  /** Until when it can be booked, changed and cancelled. */
  readonly bookUntil: string
  /** Fewer parcels are not fetched. */
  readonly least: number
}
/** What is asked of a carrier: come, where to, and for what. */
export interface CollectionWish {
  readonly reference: string
  readonly day: string
  readonly from: string
  readonly until: string
  readonly country: string
  readonly postcode: string
  readonly address: readonly string[]
  /** Where the parcels stand: a door, a gate. */
  readonly place: string
  readonly notes: string
  readonly parcels: number
  readonly pallets: number
  /** Grams. */
  readonly weight: Grams
}
/** A collection as the carrier has it. */
export interface BookedCollection {
  readonly confirmation: string
  readonly state: 'booked' | 'cancelled' | 'collected'
  readonly day: string
  readonly from: string
  readonly until: string
  readonly charge: Money | null
}

/** A label as the carrier has it: what was asked for, and what became of it. */
export interface ListedLabel {
  /** Under which it was asked for. */
  readonly key: string
  /** The number of the order. */
  readonly reference: string
  readonly service: string
  /** Of its first parcel. */
  readonly trackingNumber: string
  readonly state: 'bought' | 'voided'
  readonly boughtAt: string
  readonly charged: Money
}

/** Money as the carrier has taken it in. */
export interface ListedPayment {
  /** Under which it was sent. */
  readonly key: string
  readonly amount: Money
  readonly at: string
}

/** How the refund of a label stands that the carrier has taken back. */
export interface RefundStanding {
  readonly state: 'pending' | 'granted' | 'refused'
  /** What was granted; null where nothing is yet. */
  readonly amount: Money | null
  readonly message: string
}

/** What Gharry needs of a carrier. Keys make every order to the carrier repeatable. */
export interface CarrierClient {
  readonly buy: (request: LabelRequest, key: string) => Promise<CallResult<BoughtLabel>>
  readonly voidLabel: (trackingNumber: string, key: string) => Promise<CallResult<unknown>>
  /** Adds to the prepaid balance. */
  readonly topUp: (amount: Money, key: string) => Promise<CallResult<unknown>>
  /** The services of this account, where the interface lists them. */
  readonly services?: () => Promise<CallResult<OfferedServices>>
  /**
   * The labels that were bought since a moment, the oldest first, behind a cursor that is empty at first; where the
   * interface lists them.
   */
  readonly labelsSince?: (
    since: string,
    cursor: string,
  ) => Promise<CallResult<{ readonly labels: readonly ListedLabel[]; readonly cursor: string; readonly more: boolean }>>
  /** What was paid in since a moment; where the interface lists it. */
  readonly paymentsSince?: (since: string) => Promise<CallResult<{ readonly payments: readonly ListedPayment[] }>>
  /**
   * Where the interface takes them: refunds that are asked for again, return labels by themselves, manifests, and
   * collections, asked for, changed and cancelled under keys.
   */
  readonly refund?: (trackingNumber: string, key: string) => Promise<CallResult<RefundStanding>>
  readonly returnLabel?: (request: ReturnRequest, key: string) => Promise<CallResult<ReturnLabel>>
  readonly manifest?: (note: ManifestNote, key: string) => Promise<CallResult<{ readonly confirmation: string }>>
  readonly collectionTerms?: (at: CollectionPlace) => Promise<CallResult<CollectionTerms>>
  readonly bookCollection?: (wish: CollectionWish, key: string) => Promise<CallResult<BookedCollection>>
  readonly changeCollection?: (
    confirmation: string,
    wish: CollectionWish,
    key: string,
  ) => Promise<CallResult<BookedCollection>>
  readonly cancelCollection?: (confirmation: string, key: string) => Promise<CallResult<BookedCollection>>
  readonly collection?: (confirmation: string) => Promise<CallResult<BookedCollection>>
  readonly events: (cursor: string) => Promise<CallResult<{ events: CarrierEvent[]; cursor: string; more: boolean }>>
}
