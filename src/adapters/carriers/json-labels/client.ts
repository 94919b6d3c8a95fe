import { z } from 'zod'
import { isTrackingStatus } from '@/core/tracking'
import { money } from '@/core/units'
import { callJson, type Outside } from '../../http'
import { serviceSchema, tariffSchema } from '@/core/world'
import type { CarrierClient, OfferedServices } from '../carrier'

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
const offered = z.object({
  services: z.array(serviceSchema).max(500),
  tariffs: z.array(tariffSchema).max(500),
}) as unknown as z.ZodType<OfferedServices>
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

/** The JSON interface: an access token, idempotency keys, events behind a cursor. */
export function carrierClient(baseUrl: string, token: string, outside: Outside): CarrierClient {
  const authorization = `Bearer ${token}`
  return {
    buy: async (request, key) => {
      const result = await callJson(
        outside,
        {
          method: 'POST',
          url: `${baseUrl}/api/labels`,
          headers: { authorization, 'idempotency-key': key },
          body: request,
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
        outside,
        {
          method: 'POST',
          url: `${baseUrl}/api/labels/void`,
          headers: { authorization, 'idempotency-key': key },
          body: { trackingNumber },
        },
        z.object({ refund: z.string() }),
      ),
    topUp: (amount, key) =>
      callJson(
        outside,
        {
          method: 'POST',
          url: `${baseUrl}/api/balance`,
          headers: { authorization, 'idempotency-key': key },
          body: { minor: amount.minor, currency: amount.currency },
        },
        z.object({ received: z.boolean() }),
      ),
    services: () =>
      callJson(outside, { method: 'GET', url: `${baseUrl}/api/services`, headers: { authorization } }, offered),
    events: async (cursor) => {
      const result = await callJson(
        outside,
        {
          method: 'GET',
          url: `${baseUrl}/api/events?${new URLSearchParams({ after: cursor, limit: '500' }).toString()}`,
          headers: { authorization },
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
