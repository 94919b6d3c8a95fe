import { z } from 'zod'
import { isTrackingStatus } from '@/core/tracking'
import { money } from '@/core/units'
import { callJson, failure, type Outside } from '../../http'
import { serviceSchema, tariffSchema } from '@/core/world'
import { givenPages } from '../../papers/given'
import type { BoughtLabel, CarrierClient, DrawnLabel, OfferedServices } from '../carrier'

const drawn = z
  .object({ format: z.enum(['pdf', 'zpl']), content: z.base64().max(4_000_000) })
  .transform(({ format, content }) => ({ format, content: Buffer.from(content, 'base64') }))
const bought = z.object({
  parcels: z
    .array(
      z.object({
        trackingNumber: z.string().min(6).max(40),
        symbology: z.enum(['code128', 'gs1-128']),
        routing: z.string().max(40),
        returnNumber: z.string().min(6).max(40).optional(),
        document: drawn.optional(),
        returnDocument: drawn.optional(),
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

/** The JSON interface: an access token, idempotency keys, events behind a cursor. `drawn` asks for labels as the carrier draws them. */
export function carrierClient(
  baseUrl: string,
  token: string,
  outside: Outside,
  drawn: DrawnLabel['format'] | null,
): CarrierClient {
  const authorization = `Bearer ${token}`
  return {
    buy: async (request, key) => {
      const result = await callJson(
        outside,
        {
          method: 'POST',
          url: `${baseUrl}/api/labels`,
          headers: { authorization, 'idempotency-key': key },
          body: { ...request, ...(drawn ? { document: drawn } : {}) },
          ...(drawn ? { mostBytes: 100_000_000 } : {}),
        },
        bought,
      )
      if (!result.ok) return result
      const { parcels, charged } = result.body
      if (drawn && !(await areDrawn(parcels, drawn)))
        return failure('garbled answer', `Its labels cannot be used: no ${drawn.toUpperCase()} for each parcel.`, 60)
      return { ok: true, body: { parcels, charged: money(charged.minor, charged.currency) } }
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

/** Whether there is a label of this format for each parcel, and for each that comes back. */
async function areDrawn(parcels: BoughtLabel['parcels'], format: DrawnLabel['format']): Promise<boolean> {
  for (const { document, returnNumber, returnDocument } of parcels)
    for (const label of [document, ...(returnNumber ? [returnDocument] : [])])
      if (label?.format !== format || !(await canBePrinted(label))) return false
  return true
}

const canBePrinted = async ({ format, content }: DrawnLabel): Promise<boolean> =>
  format === 'pdf'
    ? (await givenPages(content)).length > 0
    : /\^XA[\s\S]{0,1000000}\^XZ/.test(content.toString('latin1'))
