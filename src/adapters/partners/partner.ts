import type { CallResult } from '../http'

/** A file that goes along: papers for the printer, or the order for a program. */
export interface HandedFile {
  readonly name: string
  readonly type: string
  readonly content: Buffer
}

/** What a partner is told of a shipment that it is to pack and send. */
export interface HandOver {
  /** Names the hand-over for both sides; answers name it. */
  readonly reference: string
  readonly order: string
  readonly location: string
  readonly seller: { readonly name: string; readonly mail: string }
  readonly placedOn: string
  readonly shipOn: string
  readonly recipient: {
    readonly name: string
    readonly company: string
    readonly lines: readonly string[]
    readonly postcode: string
    readonly city: string
    readonly region: string
    readonly country: string
    readonly phone: string
  }
  readonly carrier: string
  readonly service: string
  readonly parcels: readonly {
    readonly trackingNumber: string
    /** Grams. */
    readonly weight: number
    readonly items: readonly { readonly sku: string; readonly title: string; readonly quantity: number }[]
  }[]
  readonly inserts: readonly string[]
  readonly message: string
  /** Where people of the partner answer by hand. */
  readonly answerUrl: string
}

/** What a partner says by itself. `id` is the same when it says it again. */
export type PartnerNews =
  | {
      readonly kind: 'acknowledged' | 'refused'
      readonly id: string
      readonly reference: string
      readonly text: string
    }
  | {
      readonly kind: 'despatched'
      readonly id: string
      readonly reference: string
      /** As the partner calls it; empty when it does not say. */
      readonly carrier: string
      readonly numbers: readonly string[]
    }
  | {
      readonly kind: 'stock'
      readonly id: string
      readonly items: readonly { readonly sku: string; readonly quantity: number }[]
    }

export interface NewsPage {
  readonly news: readonly PartnerNews[]
  /** What could not be read, with the reason. */
  readonly bad: readonly string[]
  readonly cursor: string
  readonly more: boolean
}

/** What the other side, or its server, said of what it took. */
export interface Receipt {
  readonly receipt: string
}

/** What Gharry needs of a partner. The same key twice is one hand-over. */
export interface PartnerClient {
  readonly handOver: (what: HandOver, papers: readonly HandedFile[], key: string) => Promise<CallResult<Receipt>>
  /** Says that a shipment must not go: its label was voided. */
  readonly takeBack: (
    what: Pick<HandOver, 'reference' | 'order' | 'seller'>,
    key: string,
  ) => Promise<CallResult<Receipt>>
  /** Only where the partner can answer by itself. */
  readonly news?: (cursor: string) => Promise<CallResult<NewsPage>>
}
