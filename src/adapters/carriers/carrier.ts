import type { Service, Tariff } from '@/core/rating'
import type { DeclaredItem, LabelAddress } from '@/core/papers'
import type { TrackingStatus } from '@/core/tracking'
import type { Money } from '@/core/units'
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
    readonly weight: number
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

/** What Gharry needs of a carrier. Keys make every order to the carrier repeatable. */
export interface CarrierClient {
  readonly buy: (request: LabelRequest, key: string) => Promise<CallResult<BoughtLabel>>
  readonly voidLabel: (trackingNumber: string, key: string) => Promise<CallResult<unknown>>
  /** Adds to the prepaid balance. */
  readonly topUp: (amount: Money, key: string) => Promise<CallResult<unknown>>
  /** The services of this account, where the interface lists them. */
  readonly services?: () => Promise<CallResult<OfferedServices>>
  readonly events: (cursor: string) => Promise<CallResult<{ events: CarrierEvent[]; cursor: string; more: boolean }>>
}
