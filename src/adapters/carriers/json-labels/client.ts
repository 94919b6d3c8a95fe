import { z } from 'zod'
import { isTrackingStatus } from '@/core/tracking'
import { money } from '@/core/units'
import { callJson, type CallResult, failure, type Outside } from '../../http'
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

const returned = z.object({
  trackingNumber: z.string().min(6).max(40),
  symbology: z.enum(['code128', 'gs1-128']),
  routing: z.string().max(40),
  code: z.string().max(40),
  validUntil: z.iso.date(),
  charged: z.object({ minor: z.int().nonnegative().max(1_000_000_000), currency: z.string().regex(/^[A-Z]{3}$/) }),
  document: drawn.optional(),
})

const listed = z.object({
  labels: z.array(
    z.object({
      ...{ key: z.string().max(100), reference: z.string().max(200), service: z.string().max(100) },
      trackingNumber: z.string().min(6).max(40),
      state: z.enum(['bought', 'voided']),
      boughtAt: z.iso.datetime(),
      charged: z.object({ minor: z.int().nonnegative(), currency: z.string().regex(/^[A-Z]{3}$/) }),
    }),
  ),
  cursor: z.string().max(100),
  more: z.boolean(),
})

const paid = z.object({
  payments: z.array(
    z.object({
      ...{ key: z.string().max(100), at: z.iso.datetime() },
      ...{ minor: z.int().positive(), currency: z.string().regex(/^[A-Z]{3}$/) },
    }),
  ),
})

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/)
const charge = z
  .object({ minor: z.int().nonnegative().max(1_000_000_000), currency: z.string().regex(/^[A-Z]{3}$/) })
  .transform(({ minor, currency }) => money(minor, currency))
  .nullable()
const refund = z.object({
  state: z.enum(['pending', 'granted', 'refused']),
  amount: charge,
  message: z.string().max(300),
})
const window = z.object({ from: clock, until: clock, charge })
const terms = z.object({
  windows: z.array(window).max(50),
  bookUntil: z.iso.datetime(),
  least: z.int().nonnegative().max(1_000_000),
})
const collection = window.extend({
  confirmation: z.string().min(1).max(60),
  state: z.enum(['booked', 'cancelled', 'collected']),
  day: z.iso.date(),
})

/**
 * The JSON interface: an access token, idempotency keys, events behind a cursor. `drawn` asks for labels as the carrier
 * draws them.
 */
export function carrierClient(
  baseUrl: string,
  token: string,
  outside: Outside,
  drawn: DrawnLabel['format'] | null,
): CarrierClient {
  const authorization = `Bearer ${token}`
  const ask = <T>(
    method: 'GET' | 'POST' | 'PUT',
    path: string,
    schema: z.ZodType<T>,
    body?: unknown,
    key?: string,
  ): Promise<CallResult<T>> =>
    callJson(
      outside,
      {
        ...{ method, url: `${baseUrl}${path}` },
        headers: { authorization, ...(key ? { 'idempotency-key': key } : {}) },
        ...(body === undefined ? {} : { body }),
      },
      schema,
    )
  const booked = (confirmation: string): string => `/api/collections/${encodeURIComponent(confirmation)}`
  return {
    refund: (trackingNumber, key) => ask('POST', '/api/labels/refund', refund, { trackingNumber }, key),
    returnLabel: async (request, key) => {
      // A buyer prints it, whatever the printers of benches take.
      const body = { ...request, ...(drawn ? { document: 'pdf' } : {}) }
      const result = await ask('POST', '/api/returns', returned, body, key)
      if (!result.ok) return result
      const { charged, document, ...label } = result.body
      if (drawn && !(document?.format === 'pdf' && (await canBePrinted(document))))
        return failure('garbled answer', 'Its return label cannot be used: it is no PDF.', 60)
      const charge = money(charged.minor, charged.currency)
      return { ok: true, body: { ...label, charge, ...(document ? { document } : {}) } }
    },
    manifest: (note, key) =>
      ask('POST', '/api/manifests', z.object({ confirmation: z.string().min(1).max(60) }), note, key),
    collectionTerms: (at) => ask('GET', `/api/collections/terms?${new URLSearchParams({ ...at }).toString()}`, terms),
    bookCollection: (wish, key) => ask('POST', '/api/collections', collection, wish, key),
    changeCollection: (confirmation, wish, key) => ask('PUT', booked(confirmation), collection, wish, key),
    cancelCollection: (confirmation, key) => ask('POST', `${booked(confirmation)}/cancel`, collection, {}, key),
    collection: (confirmation) => ask('GET', booked(confirmation), collection),
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
      ask('POST', '/api/labels/void', z.object({ refund: z.string() }), { trackingNumber }, key),
    topUp: ({ minor, currency }, key) =>
      ask('POST', '/api/balance', z.object({ received: z.boolean() }), { minor, currency }, key),
    services: () => ask('GET', '/api/services', offered),
    labelsSince: async (since, cursor) => {
      const query = new URLSearchParams({ since, after: cursor, limit: '500' }).toString()
      const result = await ask('GET', `/api/labels?${query}`, listed)
      if (!result.ok) return result
      const labels = result.body.labels.map((label) => ({
        ...label,
        charged: money(label.charged.minor, label.charged.currency),
      }))
      return { ok: true, body: { ...result.body, labels } }
    },
    paymentsSince: async (since) => {
      const result = await ask('GET', `/api/balance/payments?${new URLSearchParams({ since }).toString()}`, paid)
      if (!result.ok) return result
      const payments = result.body.payments.map(({ key, at, minor, currency }) => ({
        ...{ key, at },
        amount: money(minor, currency),
      }))
      return { ok: true, body: { payments } }
    },
    events: async (cursor) => {
      const after = new URLSearchParams({ after: cursor, limit: '500' }).toString()
      const result = await ask('GET', `/api/events?${after}`, events)
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
