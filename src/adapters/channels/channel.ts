import type { RawOrder } from '@/core/order'
import type { CallResult } from '../http'

/** One page of a channel's orders; entries that make no sense come as text with the reason. */
export interface OrderPage {
  readonly orders: readonly RawOrder[]
  readonly bad: readonly { readonly row: string; readonly reason: string }[]
  /** Where the next page begins; it is kept, so that the next import goes on from there. */
  readonly cursor: string
  readonly more: boolean
}

export interface Fulfilment {
  readonly remoteOrder: string
  readonly lines: readonly { readonly line: string; readonly quantity: number }[]
  /** Who gets it. */
  readonly recipient: string
  readonly carrier: string
  /** Its identifier in Gharry. */
  readonly carrierId: string
  readonly trackingNumber: string
  readonly trackingUrl: string
}

/** A despatch as the channel shows it; those that were taken back are left out. */
export interface ShownDespatch {
  readonly trackingNumber: string
  readonly lines: readonly { readonly line: string; readonly quantity: number }[]
}

/** What Gharry needs of a sales channel. */
export interface ChannelClient {
  readonly fetchOrders: (cursor: string) => Promise<CallResult<OrderPage>>
  /** One order by its identifier there; only where the channel sends messages without the order. */
  readonly fetchOrder?: (remoteOrder: string) => Promise<CallResult<RawOrder>>
  /** Tells the channel that an order is on its way; the same key twice is one fulfilment. */
  readonly fulfil: (fulfilment: Fulfilment, key: string) => Promise<CallResult<unknown>>
  /** What the channel shows of an order’s despatches; only where it can be asked. */
  readonly despatches?: (remoteOrder: string) => Promise<CallResult<readonly ShownDespatch[]>>
  /** Takes a fulfilment back whose label was voided. */
  readonly withdraw: (remoteOrder: string, trackingNumber: string, key: string) => Promise<CallResult<unknown>>
}
