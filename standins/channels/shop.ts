import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { openBooks, type Books } from '../books'
import { withFaults } from '../faults'
import { openOrderBook, type OrderBook, withScene } from './orderBook'
import { withRefunds } from './refunds'
import { makeServer } from '../server'
import type { ShopFulfilment, ShopOrder, ShopSettings } from './shopOrder'
import { withBuyerPages } from './shopPages'

export type { ShopOrder } from './shopOrder'

/** A web shop that stands in for a sales channel: its JSON interface, and pages for its buyers. */
export function shopStandIn(settings: ShopSettings): { app: FastifyInstance; books: Books } {
  const app = makeServer()
  const books = openBooks(settings.file)
  const { hits } = withFaults(app, settings.name)
  const wanted = `Basic ${Buffer.from(`${settings.key}:${settings.secret}`).toString('base64')}`
  app.addHook('onRequest', async (request, reply) => {
    if (request.url.startsWith('/api/') && request.headers.authorization !== wanted)
      return reply.code(401).send({ message: 'Key or secret is wrong.' })
  })
  const book = openOrderBook<ShopOrder>({
    ...{ books, hits, idOf: ({ id }) => id },
    stamped: (order) => ({ ...order, changed_at: new Date().toISOString() }),
  })
  withOrders(app, book)
  withFulfilments(app, book)
  withRefunds(app, book, {
    paid: (order) => ({
      currency: order.currency,
      paidMinor: cents(order.total_items) + cents(order.shipping) - cents(order.discount),
      lines: new Map(order.lines.map(({ id, quantity }) => [id, quantity])),
    }),
    asked: (body) => {
      const asked = refundRequest.parse(body)
      return { ...asked, minor: cents(asked.amount) }
    },
    ...{ refusal: 409, name: 'id' },
  })
  withStock(app, books)
  withScene(app, {
    ...{ books, book },
    store: (order) => books.put('order', order.id, { ...order, fulfilments: order.fulfilments ?? [] }),
  })
  withBuyerPages(app, books, book, settings)
  app.addHook('onClose', () => books.close())
  return { app, books }
}

const cents = (amount: string): number => Number(amount.replace('.', ''))
const refundRequest = z.object({
  lines: z.array(z.object({ line: z.string(), quantity: z.number().int().positive() })),
  ...{ amount: z.string().regex(/^\d+\.\d{2}$/), currency: z.string(), reason: z.string() },
})

/** Orders as they change, page by page. */
function withOrders(app: FastifyInstance, book: OrderBook<ShopOrder>): void {
  app.get('/api/orders', (request) => {
    const query = z
      .object({
        status: z.enum(['open', 'fulfilled', 'cancelled']).optional(),
        changed_since: z.iso.datetime().optional(),
        cursor: z.string().optional(),
        limit: z.coerce.number().int().min(1).max(500).default(100),
      })
      .parse(request.query)
    const after = query.cursor ? Number(Buffer.from(query.cursor, 'base64url').toString().replace('seq:', '')) : 0
    const { orders, last, more } = book.changed(Number.isFinite(after) ? after : 0, query.limit)
    return {
      orders: orders.filter(
        (order) =>
          (!query.status || order.status === query.status) &&
          (!query.changed_since || order.changed_at >= query.changed_since),
      ),
      cursor: Buffer.from(`seq:${last}`).toString('base64url'),
      more,
    }
  })
}

/** How many pieces of a line are in fulfilments. */
const pieces = (lines: readonly { line: string; quantity: number }[], line: string): number =>
  lines.filter((entry) => entry.line === line).reduce((sum, entry) => sum + entry.quantity, 0)

const fulfilmentRequest = z.object({
  lines: z.array(z.object({ line: z.string(), quantity: z.number().int().positive() })).min(1),
  carrier: z.string().min(1),
  tracking_number: z.string().regex(/^\S+$/, 'must not contain blanks'),
  tracking_url: z.string(),
})

/** What was sent of an order, told once for a key, and taken back. */
function withFulfilments(app: FastifyInstance, { find, save }: OrderBook<ShopOrder>): void {
  type OfOrder = { Params: { id: string } }
  app.get<OfOrder>('/api/orders/:id/fulfilments', (request, reply) => {
    const order = find(request.params.id)
    return order ? { fulfilments: order.fulfilments } : reply.code(404).send({ message: 'There is no such order.' })
  })
  app.post<OfOrder>('/api/orders/:id/fulfilments', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const before = order.fulfilments.find((fulfilment) => fulfilment.key === key)
    if (before) return before
    const body = fulfilmentRequest.parse(request.body)
    if (order.status === 'cancelled') return reply.code(409).send({ message: 'The order is cancelled.' })
    const sent = [...order.fulfilments.filter(({ withdrawn }) => !withdrawn), body].flatMap(({ lines }) => lines)
    const over = order.lines.find((line) => pieces(sent, line.id) > line.quantity)
    if (over)
      return reply
        .code(409)
        .send({ message: `Of line ${over.id} ${over.quantity} were ordered: more are fulfilled already.` })
    const fulfilment: ShopFulfilment = {
      ...{ id: randomUUID(), key, ...body },
      ...{ at: new Date().toISOString(), withdrawn: false },
    }
    save({
      ...order,
      status: order.lines.every((line) => pieces(sent, line.id) === line.quantity) ? 'fulfilled' : order.status,
      fulfilments: [...order.fulfilments, fulfilment],
    })
    return reply.code(201).send(fulfilment)
  })
  app.post<OfOrder>('/api/orders/:id/fulfilments/withdraw', (request, reply) => {
    const order = find(request.params.id)
    const { tracking_number } = z.object({ tracking_number: z.string() }).parse(request.body)
    const fulfilment = order?.fulfilments.find((candidate) => candidate.tracking_number === tracking_number)
    if (!order || !fulfilment) return reply.code(404).send({ message: 'There is no such fulfilment.' })
    if (!fulfilment.withdrawn)
      save({
        ...order,
        status: 'open',
        fulfilments: order.fulfilments.map((candidate) =>
          candidate === fulfilment ? { ...candidate, withdrawn: true } : candidate,
        ),
      })
    return { id: fulfilment.id }
  })
}

/** What the shop counts itself, and what it was told that can be sold. */
function withStock(app: FastifyInstance, books: Books): void {
  app.get('/api/stock', (request) => {
    const { cursor } = z.object({ cursor: z.string().regex(/^\d*$/).default('') }).parse(request.query)
    const rows = books.changedAfter<{ on_hand: number }>('counted', Number(cursor) || 0, 501)
    const some = rows.slice(0, 500)
    return {
      levels: some.map(({ id, document }) => ({ sku: id, on_hand: document.on_hand })),
      cursor: String(some.at(-1)?.seq ?? cursor),
      more: rows.length > 500,
    }
  })
  app.put('/api/stock', (request) => {
    const { levels } = z
      .object({ levels: z.array(z.object({ sku: z.string(), available: z.number().int().min(0) })).max(1000) })
      .parse(request.body)
    books.together(() => levels.forEach(({ sku, available }) => books.put('available', sku, { available })))
    return { stored: levels.length }
  })
  app.post('/admin/stock', (request) => {
    const counts = z.record(z.string(), z.number().int().min(0)).parse(request.body)
    books.together(() => Object.entries(counts).forEach(([sku, on_hand]) => books.put('counted', sku, { on_hand })))
    return {}
  })
  app.get('/admin/stock', () =>
    Object.fromEntries(
      books.newest<{ available: number }>('available', 100_000).map(({ id, document }) => [id, document.available]),
    ),
  )
}
