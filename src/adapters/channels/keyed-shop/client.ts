import { z } from 'zod'
import type { RawOrder } from '@/core/order'
import { plainAmount } from '@/core/units'
import { callJson, type Call, type Outside } from '../../http'
import type { ChannelClient } from '../channel'
import { optionalText, readEntries } from '../entries'

const page = z.object({ orders: z.array(z.unknown()), cursor: z.string(), more: z.boolean() })

const shownFulfilments = z.object({
  fulfilments: z.array(
    z.object({
      tracking_number: z.string(),
      withdrawn: z.boolean(),
      lines: z.array(z.object({ line: z.string(), quantity: z.number() })),
    }),
  ),
})

const shownStock = z.object({
  levels: z
    .array(z.object({ sku: z.string().min(1).max(200), on_hand: z.int().min(0).max(1_000_000_000) }))
    .max(10_000),
  cursor: z.string().max(200),
  more: z.boolean(),
})

const amount = z
  .union([z.string(), z.number()])
  .nullish()
  .transform((value) => value ?? undefined)

/** An order as the shop's interface sends it; only the two identifiers must be there. */
const shopOrder = z.object({
  id: z.union([z.string(), z.number()]).transform(String),
  number: z.union([z.string(), z.number()]).transform(String),
  status: optionalText,
  location: optionalText,
  placed_at: optionalText,
  changed_at: optionalText,
  promised_by: optionalText,
  payment: optionalText,
  shipping_method: optionalText,
  currency: optionalText,
  shipping: amount,
  total_items: amount,
  discount: amount,
  customer: z
    .object({ name: optionalText, email: optionalText, phone: optionalText, returning: z.boolean().nullish() })
    .nullish(),
  ship_to: z
    .object({
      name: optionalText,
      company: optionalText,
      street: z.array(z.string()).nullish(),
      city: optionalText,
      postcode: optionalText,
      region: optionalText,
      country: optionalText,
    })
    .nullish(),
  lines: z
    .array(
      z.object({
        id: z.union([z.string(), z.number()]).transform(String),
        sku: optionalText,
        title: optionalText,
        quantity: z.number().nullish(),
        price: amount,
        weight_grams: z.number().nullish(),
        size_mm: z.array(z.number()).nullish(),
        tags: z.array(z.string()).nullish(),
        un_number: optionalText,
        hs_code: optionalText,
        origin: optionalText,
      }),
    )
    .nullish(),
})

/** The web shop's JSON interface: basic authorisation with key and secret, cursor pages, idempotency keys. */
export function shopClient(baseUrl: string, key: string, secret: string, outside: Outside): ChannelClient {
  const authorization = `Basic ${Buffer.from(`${key}:${secret}`).toString('base64')}`
  const post = (path: string, body: unknown, idempotencyKey: string): Call => ({
    method: 'POST',
    url: `${baseUrl}${path}`,
    headers: { authorization, 'idempotency-key': idempotencyKey },
    body,
  })
  return {
    fetchOrders: async (cursor) => {
      const query = new URLSearchParams({ limit: '500', ...(cursor ? { cursor } : {}) })
      const result = await callJson(
        outside,
        { method: 'GET', url: `${baseUrl}/api/orders?${query.toString()}`, headers: { authorization } },
        page,
      )
      return result.ok
        ? { ok: true, body: { ...result.body, ...readEntries(result.body.orders, shopOrder, rawOrder) } }
        : result
    },
    fulfil: (fulfilment, idempotencyKey) =>
      callJson(
        outside,
        post(
          `/api/orders/${encodeURIComponent(fulfilment.remoteOrder)}/fulfilments`,
          {
            lines: fulfilment.lines,
            carrier: fulfilment.carrier,
            tracking_number: fulfilment.trackingNumber,
            tracking_url: fulfilment.trackingUrl,
          },
          idempotencyKey,
        ),
        z.object({ id: z.string() }),
      ),
    despatches: async (remoteOrder) => {
      const url = `${baseUrl}/api/orders/${encodeURIComponent(remoteOrder)}/fulfilments`
      const result = await callJson(outside, { method: 'GET', url, headers: { authorization } }, shownFulfilments)
      if (!result.ok) return result
      const shown = result.body.fulfilments.filter(({ withdrawn }) => !withdrawn)
      return { ok: true, body: shown.map(({ tracking_number: trackingNumber, lines }) => ({ trackingNumber, lines })) }
    },
    stock: async (cursor) => {
      const query = new URLSearchParams(cursor ? { cursor } : {})
      const url = `${baseUrl}/api/stock?${query.toString()}`
      const result = await callJson(outside, { method: 'GET', url, headers: { authorization } }, shownStock)
      if (!result.ok) return result
      const { levels, ...rest } = result.body
      return { ok: true, body: { ...rest, levels: levels.map(({ sku, on_hand: onHand }) => ({ sku, onHand })) } }
    },
    tellStock: (levels) =>
      callJson(
        outside,
        {
          method: 'PUT',
          url: `${baseUrl}/api/stock`,
          headers: { authorization },
          body: { levels: levels.map(({ sku, free }) => ({ sku, available: free })) },
        },
        z.object({ stored: z.number() }),
      ),
    refund: ({ remoteOrder, lines, amount, reason }, idempotencyKey) =>
      callJson(
        outside,
        post(
          `/api/orders/${encodeURIComponent(remoteOrder)}/refunds`,
          { lines, amount: plainAmount(amount), currency: amount.currency, reason },
          idempotencyKey,
        ),
        z.object({ id: z.string() }),
      ),
    withdraw: (remoteOrder, trackingNumber, idempotencyKey) =>
      callJson(
        outside,
        post(
          `/api/orders/${encodeURIComponent(remoteOrder)}/fulfilments/withdraw`,
          { tracking_number: trackingNumber },
          idempotencyKey,
        ),
        z.object({ id: z.string() }),
      ),
  }
}

/** One order of the shop's interface; null when it makes no sense. */
export function shopRawOrder(entry: unknown): RawOrder | null {
  const parsed = shopOrder.safeParse(entry)
  return parsed.success ? rawOrder(parsed.data) : null
}

function rawOrder(order: z.infer<typeof shopOrder>): RawOrder {
  const { customer, ship_to: shipTo } = order
  return {
    id: order.id,
    number: order.number,
    status: order.status,
    place: order.location,
    placedAt: order.placed_at,
    changedAt: order.changed_at,
    promisedBy: order.promised_by,
    paymentMethod: order.payment,
    wording: order.shipping_method,
    currency: order.currency,
    shippingPaid: order.shipping,
    value: order.total_items,
    discount: order.discount,
    buyer: {
      name: customer?.name,
      email: customer?.email,
      phone: customer?.phone,
      returning: customer?.returning === true,
    },
    shipTo: {
      name: shipTo?.name,
      company: shipTo?.company,
      lines: shipTo?.street ?? [],
      city: shipTo?.city,
      postcode: shipTo?.postcode,
      region: shipTo?.region,
      country: shipTo?.country,
    },
    items: (order.lines ?? []).map((line) => ({
      line: line.id,
      sku: line.sku,
      title: line.title,
      quantity: line.quantity ?? undefined,
      price: line.price,
      weight: line.weight_grams ?? undefined,
      weightUnit: 'g',
      size: line.size_mm ?? undefined,
      tags: line.tags ?? undefined,
      dangerousGoods: line.un_number,
      hsCode: line.hs_code,
      origin: line.origin,
    })),
  }
}
