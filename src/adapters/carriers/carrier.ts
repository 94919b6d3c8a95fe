import { z } from 'zod'
import type { DeclaredItem, LabelAddress } from '@/core/papers'
import { isTrackingStatus, type TrackingStatus } from '@/core/tracking'
import { money, type Money } from '@/core/units'
import { callJson, type CallResult } from '../http'

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
  /** Minor units of the home currency. */
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

export interface BoughtLabel {
  /** One for each parcel, in their order. */
  readonly parcels: readonly {
    readonly trackingNumber: string
    readonly symbology: 'code128' | 'gs1-128'
    readonly routing: string
    readonly returnNumber?: string
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

/** What Gharry needs of a carrier. Keys make every order to the carrier repeatable. */
export interface CarrierClient {
  readonly buy: (request: LabelRequest, key: string) => Promise<CallResult<BoughtLabel>>
  readonly voidLabel: (trackingNumber: string, key: string) => Promise<CallResult<unknown>>
  /** Adds to the prepaid balance; minor units of the home currency. */
  readonly topUp: (amount: number, key: string) => Promise<CallResult<unknown>>
  readonly events: (cursor: string) => Promise<CallResult<{ events: CarrierEvent[]; cursor: string; more: boolean }>>
}

const bought = z.object({
  parcels: z
    .array(
      z.object({
        trackingNumber: z.string().min(6).max(40),
        symbology: z.enum(['code128', 'gs1-128']),
        routing: z.string().max(40),
        returnNumber: z.string().min(6).max(40).optional(),
      }),
    )
    .min(1),
  charged: z.object({ minor: z.int().nonnegative().max(1_000_000_000), currency: z.string().regex(/^[A-Z]{3}$/) }),
})
const events = z.object({
  events: z.array(
    z.object({
      id: z.string(),
      trackingNumber: z.string(),
      at: z.iso.datetime(),
      status: z.string().refine(isTrackingStatus),
      place: z.string(),
      text: z.string(),
    }),
  ),
  cursor: z.string(),
  more: z.boolean(),
})

/** The JSON interface that all carriers speak. */
export function carrierClient(baseUrl: string, token: string, timeoutMs = 15_000): CarrierClient {
  const authorization = `Bearer ${token}`
  return {
    buy: async (request, key) => {
      const result = await callJson(
        {
          method: 'POST',
          url: `${baseUrl}/api/labels`,
          headers: { authorization, 'idempotency-key': key },
          body: request,
          timeoutMs,
        },
        bought,
      )
      return result.ok
        ? {
            ok: true,
            body: { ...result.body, charged: money(result.body.charged.minor, result.body.charged.currency) },
          }
        : result
    },
    voidLabel: (trackingNumber, key) =>
      callJson(
        {
          method: 'POST',
          url: `${baseUrl}/api/labels/void`,
          headers: { authorization, 'idempotency-key': key },
          body: { trackingNumber },
          timeoutMs,
        },
        z.object({ refund: z.string() }),
      ),
    topUp: (amount, key) =>
      callJson(
        {
          method: 'POST',
          url: `${baseUrl}/api/balance`,
          headers: { authorization, 'idempotency-key': key },
          body: { minor: amount, currency: 'EUR' },
          timeoutMs,
        },
        z.object({ received: z.boolean() }),
      ),
    events: async (cursor) => {
      const result = await callJson(
        {
          method: 'GET',
          url: `${baseUrl}/api/events?${new URLSearchParams({ after: cursor, limit: '500' }).toString()}`,
          headers: { authorization },
          timeoutMs,
        },
        events,
      )
      return result.ok
        ? {
            ok: true,
            body: {
              ...result.body,
              events: result.body.events.map((event) => ({ ...event, status: event.status })),
            },
          }
        : result
    },
  }
}
