import { z } from 'zod'
import type { RawOrder } from '@/core/order'
import { money, plainAmount } from '@/core/units'
import { callJson, failure, type Call, type CallResult, type Outside } from '../../http'
import type { Access } from '../../connections/kind'
import type { ChannelClient, Fulfilment } from '../channel'
import { optionalText, readEntries } from '../entries'

const marketPage = z.object({ items: z.array(z.unknown()), next: z.string(), complete: z.boolean() })
const minor = z.int().optional()

/** An order as the marketplace sends it; amounts are in minor units. */
const marketOrder = z.object({
  orderId: z.string(),
  reference: z.string(),
  state: z.string(),
  createdAt: optionalText,
  deliverBy: optionalText,
  deliveryOption: optionalText,
  currency: z.string().length(3),
  amounts: z.object({ goods: minor, delivery: minor, discount: minor }),
  relayAddress: optionalText,
  recipient: z.object({
    fullName: optionalText,
    company: optionalText,
    line1: optionalText,
    line2: optionalText,
    town: optionalText,
    postalCode: optionalText,
    county: optionalText,
    countryCode: optionalText,
    phone: optionalText,
  }),
  lines: z.array(
    z.object({
      lineId: z.string(),
      sellerSku: optionalText,
      title: optionalText,
      quantity: z.number().optional(),
      unitPrice: minor,
      grams: z.number().optional(),
    }),
  ),
})

/** Which code of the marketplace's own list each carrier has. */
export type CarrierCodes = ReadonlyMap<string, string>

/** What the marketplace says of an authorisation. */
const authorisation = z.object({ shop: z.string(), country: z.string(), until: z.iso.datetime() })
export const askAuthorisation = (
  address: string,
  token: string,
  outside: Outside,
): Promise<CallResult<z.infer<typeof authorisation>>> =>
  callJson(
    outside,
    { method: 'GET', url: `${address}/api/authorisation`, headers: { authorization: `Bearer ${token}` } },
    authorisation,
  )

/** A marketplace behind a token: pages of orders, and despatches with its own carrier codes. */
export function marketClient(address: string, codes: CarrierCodes, outside: Outside, access: Access): ChannelClient {
  /** Calls with a token; one that is refused is renewed once. */
  async function call<T>(asked: Omit<Call, 'headers'>, schema: z.ZodType<T>, key?: string): Promise<CallResult<T>> {
    const ask = (token: string): Promise<CallResult<T>> =>
      callJson(
        outside,
        { ...asked, headers: { authorization: `Bearer ${token}`, ...(key ? { 'idempotency-key': key } : {}) } },
        schema,
      )
    const token = await access.token()
    if (!token.ok) return token
    const result = await ask(token.body)
    if (result.ok || result.kind !== 'not allowed') return result
    const fresh = await access.token(token.body)
    return fresh.ok ? ask(fresh.body) : fresh
  }
  const about = (order: string): string => `${address}/api/orders/${encodeURIComponent(order)}/despatches`
  const despatch = z.object({ trackingNumber: z.string() })
  return {
    fetchOrders: async (cursor) => {
      const query = new URLSearchParams({ size: '200', ...(cursor ? { after: cursor } : {}) })
      const result = await call({ method: 'GET', url: `${address}/api/orders?${query.toString()}` }, marketPage)
      if (!result.ok) return result
      const { items, next, complete } = result.body
      return { ok: true, body: { ...readEntries(items, marketOrder, rawOrder), cursor: next, more: !complete } }
    },
    fulfil: async (fulfilment, key) => {
      const told = despatchOf(fulfilment, codes)
      return 'kind' in told
        ? told
        : call({ method: 'POST', url: about(fulfilment.remoteOrder), body: told }, despatch, key)
    },
    despatches: async (order) => {
      const result = await call({ method: 'GET', url: about(order) }, shownDespatches)
      if (!result.ok) return result
      const shown = result.body.despatches.filter(({ withdrawn }) => !withdrawn)
      return {
        ok: true,
        body: shown.map(({ trackingNumber, lines }) => ({
          trackingNumber,
          lines: lines.map(({ lineId, quantity }) => ({ line: lineId, quantity })),
        })),
      }
    },
    refund: ({ remoteOrder, lines, amount, reason }, key) =>
      call(
        {
          method: 'POST',
          url: `${address}/api/orders/${encodeURIComponent(remoteOrder)}/refunds`,
          body: {
            lines: lines.map(({ line, quantity }) => ({ lineId: line, quantity })),
            ...{ amount: amount.minor, currency: amount.currency, reason },
          },
        },
        z.object({ refundId: z.string() }),
        key,
      ),
    withdraw: (order, trackingNumber, key) =>
      call({ method: 'POST', url: `${about(order)}/withdraw`, body: { trackingNumber } }, despatch, key),
  }
}

const shownDespatches = z.object({
  despatches: z.array(
    z.object({
      trackingNumber: z.string(),
      withdrawn: z.boolean(),
      lines: z.array(z.object({ lineId: z.string(), quantity: z.number() })),
    }),
  ),
})

/** What the marketplace is told; a carrier that it has no code for is said before it is asked. */
function despatchOf({ carrier, carrierId, trackingNumber, lines }: Fulfilment, codes: CarrierCodes) {
  const carrierCode = codes.get(carrierId)
  if (carrierCode === undefined)
    return failure(
      'refused',
      `${carrier} has no code of this marketplace: write it into its carrier codes under Intake, Connections, then post again.`,
    )
  return {
    carrierCode,
    // It takes numbers without the blanks and hyphens that some carriers print.
    trackingNumber: trackingNumber.replace(/[\s-]/g, ''),
    lines: lines.map(({ line, quantity }) => ({ lineId: line, quantity })),
  }
}

const states: Readonly<Record<string, string>> = { DESPATCHED: 'fulfilled', CANCELLED: 'cancelled' }

function rawOrder(order: z.infer<typeof marketOrder>): RawOrder {
  const { recipient, amounts, currency } = order
  const amount = (value: number | undefined): string | undefined =>
    value === undefined ? undefined : plainAmount(money(value, currency))
  return {
    id: order.orderId,
    number: order.reference,
    status: states[order.state] ?? order.state.toLowerCase().replaceAll('_', ' '),
    placedAt: order.createdAt,
    promisedBy: order.deliverBy,
    wording: order.deliveryOption,
    currency,
    shippingPaid: amount(amounts.delivery),
    value: amount(amounts.goods),
    discount: amount(amounts.discount),
    buyer: { name: recipient.fullName, email: order.relayAddress, phone: recipient.phone },
    shipTo: {
      name: recipient.fullName,
      company: recipient.company,
      lines: [recipient.line1, recipient.line2].filter((line): line is string => Boolean(line)),
      city: recipient.town,
      postcode: recipient.postalCode,
      region: recipient.county,
      country: recipient.countryCode,
    },
    items: order.lines.map((line) => ({
      line: line.lineId,
      sku: line.sellerSku,
      title: line.title,
      quantity: line.quantity,
      price: amount(line.unitPrice),
      weight: line.grams,
      weightUnit: 'g',
    })),
  }
}
