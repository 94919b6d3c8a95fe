import type { RawOrder } from '@/core/order'
import type { Money } from '@/core/units'
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

/** What a buyer gets back for pieces that came back. */
export interface ChannelRefund {
  readonly remoteOrder: string
  readonly lines: readonly { readonly line: string; readonly quantity: number }[]
  /** All of it: for the pieces, and for shipping. */
  readonly amount: Money
  readonly reason: string
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
  /** Has what came back paid back; the same key twice is one refund. Only where the channel pays. */
  readonly refund?: (refund: ChannelRefund, key: string) => Promise<CallResult<unknown>>
  /** What it says is in stock, what has changed since a cursor; only where it is asked for it. */
  readonly stock?: (cursor: string) => Promise<
    CallResult<{
      readonly levels: readonly { readonly sku: string; readonly onHand: number }[]
      readonly cursor: string
      readonly more: boolean
    }>
  >
  /** Tells it what can be sold of each SKU: what it is told twice is the same. */
  readonly tellStock?: (
    levels: readonly { readonly sku: string; readonly free: number }[],
  ) => Promise<CallResult<unknown>>
  /** Takes a fulfilment back whose label was voided. */
  readonly withdraw: (remoteOrder: string, trackingNumber: string, key: string) => Promise<CallResult<unknown>>
}
