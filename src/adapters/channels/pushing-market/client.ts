import { createHmac, timingSafeEqual } from 'node:crypto'
import { z } from 'zod'
import type { RawOrder } from '@/core/order'
import { plainAmount } from '@/core/units'
import { callJson, failure, type Call, type CallResult, type Outside } from '../../http'
import type { Heard, Message } from '../../connections/kind'
import type { ChannelClient } from '../channel'
import { optionalText, readEntries, whyNot } from '../entries'

/** An order of the marketplace, always whole: what was cancelled of a position is said beside what was ordered. */
const marketOrder = z.object({
  id: z.string(),
  number: z.string(),
  status: z.string(),
  location: z.string().optional(),
  placed: optionalText,
  revised: z.iso.datetime(),
  promise: optionalText,
  method: optionalText,
  currency: optionalText,
  goods: optionalText,
  postage: optionalText,
  buyer: z.object({ name: optionalText, email: optionalText }),
  deliver_to: z.object({
    name: optionalText,
    street: optionalText,
    house_number: optionalText,
    extra: optionalText,
    zip: optionalText,
    city: optionalText,
    state: optionalText,
    country: optionalText,
    phone: optionalText,
  }),
  positions: z.array(
    z.object({
      no: z.string(),
      sku: optionalText,
      name: optionalText,
      ordered: z.int().nonnegative(),
      cancelled: z.int().nonnegative().default(0),
      each: optionalText,
    }),
  ),
})
const marketPage = z.object({ orders: z.array(z.unknown()), cursor: z.string(), more: z.boolean() })

/** A message: about one order, with the order as it is after, or without it. */
const messageShape = z.object({ event: z.string().min(1).max(100), about: z.string(), order: z.unknown().optional() })

/** Messages that are older than this, or come from as far ahead, are not taken. */
const stampWithinMs = 5 * 60_000

/** Whether a message is signed as it should be: HMAC SHA-256 over `time stamp . body`, the stamp in Unix seconds. */
export function readMessage({ header, body, now }: Message, secret: string): Heard {
  const [stamp, signature] = [header('message-timestamp'), header('message-signature')]
  if (!stamp || !/^\d{1,12}$/.test(stamp) || !signature)
    return { ok: false, sentence: 'It has no time stamp, or no signature.' }
  const given = Buffer.from(signature.replace(/^v1=/, ''), 'hex')
  const wanted = createHmac('sha256', secret).update(`${stamp}.`).update(body).digest()
  if (given.length !== wanted.length || !timingSafeEqual(given, wanted))
    return { ok: false, sentence: 'Its signature does not fit.' }
  if (Math.abs(now - Number(stamp) * 1000) > stampWithinMs)
    return { ok: false, sentence: 'Its time stamp is too old, or ahead of time.' }
  const parsed = messageShape.safeParse(jsonOf(body))
  return parsed.success
    ? { ok: true, id: parsed.data.event }
    : { ok: false, sentence: 'Its body is no message of this marketplace.' }
}

/** What a message that was taken says: an order as it is now, or the identifier of one to ask for. */
export function ordersIn(
  body: string,
): { readonly order: RawOrder } | { readonly about: string } | { readonly bad: string } {
  const message = messageShape.parse(JSON.parse(body))
  if (message.order === undefined) return { about: message.about }
  const parsed = marketOrder.safeParse(message.order)
  return parsed.success ? { order: rawOrder(parsed.data) } : { bad: whyNot(parsed.error) }
}

const shownShipments = z.object({
  shipments: z.array(
    z.object({
      tracking: z.string(),
      withdrawn: z.boolean(),
      positions: z.array(z.object({ no: z.string(), pieces: z.number() })),
    }),
  ),
})

/** A marketplace with an access key, which gives out so many calls a while and says how many are left. */
export function pushingClient(address: string, key: string, outside: Outside): ChannelClient {
  let restsUntil = 0
  async function call<T>(asked: Omit<Call, 'headers'>, schema: z.ZodType<T>, intent?: string): Promise<CallResult<T>> {
    const rest = restsUntil - Date.now()
    if (rest > 0) return failure('rate-limited', 'It has no calls left for this while.', Math.ceil(rest / 1000))
    return callJson(
      outside,
      {
        ...asked,
        headers: { 'x-access-key': key, ...(intent ? { 'idempotency-key': intent } : {}) },
        // RateLimit header fields for HTTP (IETF draft): calls left, and seconds until there are more.
        seen: (headers) => {
          const [left, reset] = [headers.get('ratelimit-remaining'), Number(headers.get('ratelimit-reset'))]
          if (left === '0' && reset > 0) restsUntil = Date.now() + reset * 1000
        },
      },
      schema,
    )
  }
  const about = (order: string): string => `${address}/api/orders/${encodeURIComponent(order)}`
  const shipment = z.object({ shipment: z.string() })
  return {
    fetchOrders: async (cursor) => {
      const query = new URLSearchParams({ limit: '200', ...(cursor ? { cursor } : {}) })
      const result = await call({ method: 'GET', url: `${address}/api/orders?${query.toString()}` }, marketPage)
      return result.ok
        ? { ok: true, body: { ...result.body, ...readEntries(result.body.orders, marketOrder, rawOrder) } }
        : result
    },
    fetchOrder: async (order) => {
      const result = await call({ method: 'GET', url: about(order) }, marketOrder)
      return result.ok ? { ok: true, body: rawOrder(result.body) } : result
    },
    fulfil: ({ remoteOrder, carrier, trackingNumber, trackingUrl, lines }, intent) =>
      call(
        {
          method: 'POST',
          url: `${about(remoteOrder)}/shipments`,
          body: {
            carrier,
            tracking: trackingNumber,
            link: trackingUrl,
            positions: lines.map(({ line, quantity }) => ({ no: line, pieces: quantity })),
          },
        },
        shipment,
        intent,
      ),
    despatches: async (order) => {
      const result = await call({ method: 'GET', url: about(order) }, shownShipments)
      if (!result.ok) return result
      const shown = result.body.shipments.filter(({ withdrawn }) => !withdrawn)
      return {
        ok: true,
        body: shown.map(({ tracking, positions }) => ({
          trackingNumber: tracking,
          lines: positions.map(({ no, pieces }) => ({ line: no, quantity: pieces })),
        })),
      }
    },
    refund: ({ remoteOrder, lines, amount, reason }, intent) =>
      call(
        {
          method: 'POST',
          url: `${about(remoteOrder)}/refunds`,
          body: {
            positions: lines.map(({ line, quantity }) => ({ no: line, pieces: quantity })),
            ...{ amount: plainAmount(amount), currency: amount.currency, because: reason },
          },
        },
        z.object({ refund: z.string() }),
        intent,
      ),
    withdraw: (order, trackingNumber, intent) =>
      call(
        { method: 'POST', url: `${about(order)}/shipments/withdraw`, body: { tracking: trackingNumber } },
        shipment,
        intent,
      ),
  }
}

function jsonOf(body: Buffer): unknown {
  try {
    return JSON.parse(body.toString('utf8'))
  } catch {
    return undefined
  }
}

function rawOrder(order: z.infer<typeof marketOrder>): RawOrder {
  const { deliver_to: to, buyer } = order
  const left = order.positions.filter(({ ordered, cancelled }) => ordered > cancelled)
  const shipped = order.status === 'shipped' ? 'fulfilled' : order.status
  return {
    id: order.id,
    number: order.number,
    // What is cancelled piece by piece is cancelled.
    place: order.location,
    status: order.positions.length > 0 && left.length === 0 ? 'cancelled' : shipped,
    placedAt: order.placed,
    changedAt: order.revised,
    promisedBy: order.promise,
    wording: order.method,
    currency: order.currency,
    shippingPaid: order.postage,
    value: order.goods,
    buyer: { name: buyer.name, email: buyer.email, phone: to.phone },
    shipTo: {
      name: to.name,
      lines: [[to.street, to.house_number].filter(Boolean).join(' '), to.extra ?? ''].filter(Boolean),
      city: to.city,
      postcode: to.zip,
      region: to.state,
      country: to.country,
    },
    items: left.map(({ no, sku, name, ordered, cancelled, each }) => ({
      line: no,
      sku,
      title: name,
      quantity: ordered - cancelled,
      price: each,
    })),
  }
}
