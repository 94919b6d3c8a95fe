import { z } from 'zod'
import { isTrackingStatus } from '@/core/tracking'
import { money } from '@/core/units'
import type { Outside } from '../../http'
import type { CarrierClient, LabelRequest } from '../carrier'
import { ask, type Account } from './document'

const minor = z
  .string()
  .regex(/^\d{1,10}$/)
  .transform(Number)
const booked = z.object({
  Consignment: z.object({
    '@charge': minor,
    '@currency': z.string().regex(/^[A-Z]{3}$/),
    Piece: z
      .array(
        z.object({
          '@number': z.string().min(6).max(40),
          '@symbology': z.enum(['code128', 'gs1-128']),
          '@routing': z.string().max(40),
          '@return': z.string().min(6).max(40).optional(),
        }),
      )
      .min(1),
  }),
})
const report = z.object({
  Events: z.object({
    '@cursor': z.string(),
    '@more': z.enum(['true', 'false']),
    Event: z
      .array(
        z.object({
          '@id': z.string(),
          '@number': z.string(),
          '@at': z.iso.datetime(),
          '@status': z.string().refine(isTrackingStatus),
          '@place': z.string(),
          '#text': z.string().default(''),
        }),
      )
      .default([]),
  }),
})

const bookings = z.object({
  Consignments: z.object({
    '@cursor': z.string(),
    '@more': z.enum(['true', 'false']),
    Booked: z
      .array(
        z.object({
          ...{ '@message': z.string(), '@reference': z.string(), '@service': z.string() },
          '@number': z.string().min(6).max(40),
          '@state': z.enum(['bought', 'voided']),
          '@at': z.iso.datetime(),
          '@charge': minor,
          '@currency': z.string().regex(/^[A-Z]{3}$/),
        }),
      )
      .default([]),
  }),
})

const payments = z.object({
  Payments: z.object({
    Paid: z
      .array(
        z.object({
          ...{ '@message': z.string(), '@minor': minor, '@at': z.iso.datetime() },
          '@currency': z.string().regex(/^[A-Z]{3}$/),
        }),
      )
      .default([]),
  }),
})

/** A carrier of freight that speaks XML: kilograms and centimetres, one address for everything. */
export function freightClient(account: Account, outside: Outside): CarrierClient {
  return {
    buy: async (request, key) => {
      const result = await ask(account, outside, key, { BookConsignment: consignment(request) }, booked)
      if (!result.ok) return result
      const { Piece: pieces, '@charge': charge, '@currency': currency } = result.body.Consignment
      return {
        ok: true,
        body: {
          parcels: pieces.map((piece) => ({
            trackingNumber: piece['@number'],
            symbology: piece['@symbology'],
            routing: piece['@routing'],
            ...(piece['@return'] ? { returnNumber: piece['@return'] } : {}),
          })),
          charged: money(charge, currency),
        },
      }
    },
    voidLabel: (trackingNumber, key) =>
      ask(
        account,
        outside,
        key,
        { CancelConsignment: { '@number': trackingNumber } },
        z.object({ Cancelled: z.unknown() }),
      ),
    topUp: (amount, key) =>
      ask(
        account,
        outside,
        key,
        { PayIn: { '@minor': String(amount.minor), '@currency': amount.currency } },
        z.object({ Received: z.unknown() }),
      ),
    labelsSince: async (since, cursor) => {
      const asked = { BookingReport: { '@since': since, '@after': cursor, '@most': '500' } }
      const result = await ask(account, outside, '', asked, bookings)
      if (!result.ok) return result
      const { Booked: booked, '@cursor': next, '@more': more } = result.body.Consignments
      return {
        ok: true,
        body: {
          cursor: next,
          more: more === 'true',
          labels: booked.map((one) => ({
            ...{ key: one['@message'], reference: one['@reference'], service: one['@service'] },
            ...{ trackingNumber: one['@number'], state: one['@state'], boughtAt: one['@at'] },
            charged: money(one['@charge'], one['@currency']),
          })),
        },
      }
    },
    paymentsSince: async (since) => {
      const result = await ask(account, outside, '', { PaymentReport: { '@since': since } }, payments)
      if (!result.ok) return result
      const found = result.body.Payments.Paid.map((one) => ({
        ...{ key: one['@message'], at: one['@at'] },
        amount: money(one['@minor'], one['@currency']),
      }))
      return { ok: true, body: { payments: found } }
    },
    events: async (cursor) => {
      const result = await ask(account, outside, '', { StatusReport: { '@after': cursor, '@most': '500' } }, report)
      if (!result.ok) return result
      const { Event: events, '@cursor': next, '@more': more } = result.body.Events
      return {
        ok: true,
        body: {
          cursor: next,
          more: more === 'true',
          events: events.map((event) => ({
            id: event['@id'],
            trackingNumber: event['@number'],
            at: event['@at'],
            status: event['@status'],
            place: event['@place'],
            text: event['#text'],
          })),
        },
      }
    },
  }
}

const kilograms = (grams: number): string => (grams / 1000).toFixed(3)
const centimetres = (millimetres: number): string => (millimetres / 10).toFixed(1)
const yes = (value: boolean): string => (value ? 'yes' : 'no')

function consignment(request: LabelRequest): object {
  const { from, to, parcels, customs } = request
  return {
    '@service': request.service,
    '@reference': request.reference,
    '@collect': request.shipOn,
    Sender: { '@country': request.fromCountry, Line: [...from.lines] },
    Receiver: { '@country': request.toCountry, '@postcode': request.toPostcode, Line: [...to.lines] },
    Options: {
      ...{ '@signature': yes(request.signature), '@insured': String(request.insured) },
      ...{ '@cashOnDelivery': String(request.toCollect), '@home': yes(request.residential) },
      ...{ '@poBox': yes(request.postOfficeBox), '@notStackable': yes(request.notStackable) },
      ...{ '@duties': request.duties, '@returnLabel': yes(request.returnLabel) },
      Dangerous: request.dangerousGoods.map((un) => ({ '@un': un })),
    },
    Piece: parcels.map(({ weight, size, dangerousGoods, notStackable }) => ({
      '@kg': kilograms(weight),
      '@cm': size.map((side) => centimetres(side)).join(' x '),
      ...(notStackable === undefined ? {} : { '@notStackable': yes(notStackable) }),
      Dangerous: (dangerousGoods ?? []).map((un) => ({ '@un': un })),
    })),
    ...(customs
      ? {
          Customs: {
            Item: customs.map(({ description, hsCode, origin, quantity, netWeight, value }) => ({
              ...{ '@code': hsCode, '@origin': origin, '@pieces': String(quantity), '@kg': kilograms(netWeight) },
              ...{ '@minor': String(value.minor), '@currency': value.currency },
              '#text': description,
            })),
          },
        }
      : {}),
  }
}
