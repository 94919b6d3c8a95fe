import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { openBooks, type Books } from './books'
import { withFaults } from './faults'
import { card, escapeHtml, page, table } from './html'
import { type ChannelRefund, takeRefund } from './refunds'
import { makeServer } from './server'

export interface ShopFulfilment {
  id: string
  key: string
  lines: { line: string; quantity: number }[]
  carrier: string
  tracking_number: string
  tracking_url: string
  at: string
  withdrawn: boolean
}
export interface ShopLine {
  id: string
  sku: string
  title: string
  quantity: number
  price: string
  weight_grams: number
  size_mm: number[]
  tags: string[]
  un_number: string
  hs_code: string
  origin: string
}
export interface ShopOrder {
  id: string
  number: string
  status: 'open' | 'fulfilled' | 'cancelled'
  /** The shop's own location that has it, where it has several. */
  location?: string
  placed_at: string
  changed_at: string
  promised_by: string
  payment: string
  shipping_method: string
  currency: string
  shipping: string
  total_items: string
  discount: string
  customer: { name: string; email: string; phone: string; returning: boolean }
  ship_to: {
    name: string
    company: string
    street: string[]
    city: string
    postcode: string
    region: string
    country: string
  }
  lines: ShopLine[]
  fulfilments: ShopFulfilment[]
  refunds?: ChannelRefund[]
}

export interface ShopProduct extends Omit<ShopLine, 'id' | 'quantity'> {
  readonly sku: string
}
export interface ShopSettings {
  readonly file: string
  readonly key: string
  readonly secret: string
  readonly name: string
  readonly products: readonly ShopProduct[]
  readonly shippingMethods: readonly string[]
}

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
    const rows = books.changedAfter<ShopOrder>('order', Number.isFinite(after) ? after : 0, query.limit + 1)
    const some = rows.slice(0, query.limit)
    const orders = some
      .map((row) => row.document)
      .filter(
        (order) =>
          (!query.status || order.status === query.status) &&
          (!query.changed_since || order.changed_at >= query.changed_since),
      )
    const last = some[some.length - 1]?.seq ?? after
    return {
      orders: hits('twice') ? [...orders, ...orders] : orders,
      cursor: Buffer.from(`seq:${last}`).toString('base64url'),
      more: rows.length > query.limit,
    }
  })

  const find = (id: string): ShopOrder | undefined => books.get<ShopOrder>('order', id)
  app.get<{ Params: { id: string } }>('/api/orders/:id/fulfilments', (request, reply) => {
    const order = find(request.params.id)
    return order ? { fulfilments: order.fulfilments } : reply.code(404).send({ message: 'There is no such order.' })
  })
  app.post<{ Params: { id: string } }>('/api/orders/:id/fulfilments', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const before = order.fulfilments.find((fulfilment) => fulfilment.key === key)
    if (before) return before
    const body = z
      .object({
        lines: z.array(z.object({ line: z.string(), quantity: z.number().int().positive() })).min(1),
        carrier: z.string().min(1),
        tracking_number: z.string().regex(/^\S+$/, 'must not contain blanks'),
        tracking_url: z.string(),
      })
      .parse(request.body)
    if (order.status === 'cancelled') return reply.code(409).send({ message: 'The order is cancelled.' })
    const sent = [...order.fulfilments.filter((fulfilment) => !fulfilment.withdrawn), body].flatMap(
      (fulfilment) => fulfilment.lines,
    )
    const pieces = (line: string): number =>
      sent.filter((entry) => entry.line === line).reduce((sum, entry) => sum + entry.quantity, 0)
    const over = order.lines.find((line) => pieces(line.id) > line.quantity)
    if (over)
      return reply
        .code(409)
        .send({ message: `Of line ${over.id} ${over.quantity} were ordered: more are fulfilled already.` })
    const fulfilment: ShopFulfilment = {
      id: randomUUID(),
      key,
      ...body,
      at: new Date().toISOString(),
      withdrawn: false,
    }
    save({
      ...order,
      status: order.lines.every((line) => pieces(line.id) === line.quantity) ? 'fulfilled' : order.status,
      fulfilments: [...order.fulfilments, fulfilment],
    })
    return reply.code(201).send(fulfilment)
  })
  app.post<{ Params: { id: string } }>('/api/orders/:id/fulfilments/withdraw', (request, reply) => {
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

  app.post<{ Params: { id: string } }>('/api/orders/:id/refunds', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const { refunds = [] } = order
    const body = z
      .object({
        lines: z.array(z.object({ line: z.string(), quantity: z.number().int().positive() })),
        ...{ amount: z.string().regex(/^\d+\.\d{2}$/), currency: z.string(), reason: z.string() },
      })
      .parse(request.body)
    const cents = (amount: string): number => Number(amount.replace('.', ''))
    const asked = { ...body, minor: cents(body.amount) }
    const taken = takeRefund(
      {
        currency: order.currency,
        paidMinor: cents(order.total_items) + cents(order.shipping) - cents(order.discount),
        lines: new Map(order.lines.map(({ id, quantity }) => [id, quantity])),
      },
      refunds,
      key,
      asked,
    )
    if ('wrong' in taken) return reply.code(409).send({ message: taken.wrong })
    if (taken.fresh) save({ ...order, refunds: [...refunds, taken.refund] })
    return reply.code(taken.fresh ? 201 : 200).send({ id: taken.refund.id })
  })

  // What the shop counts itself, and what it was told that can be sold.
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

  const save = (order: ShopOrder): void =>
    books.put('order', order.id, { ...order, changed_at: new Date().toISOString() })

  // What tests and the demo need to set the scene.
  app.post('/admin/orders', (request) => {
    const orders = request.body as ShopOrder[]
    books.together(() =>
      orders.forEach((order) => books.put('order', order.id, { ...order, fulfilments: order.fulfilments ?? [] })),
    )
    return { stored: orders.length }
  })
  // The youngest so many; all of them, where nobody says how many.
  app.get<{ Querystring: { most?: string } }>('/admin/orders', ({ query }) =>
    books.newest<ShopOrder>('order', Number(query.most) || 100_000).map((row) => row.document),
  )
  app.post<{ Params: { id: string } }>('/admin/orders/:id', (request) => {
    const order = { ...find(request.params.id)!, ...(request.body as Partial<ShopOrder>) }
    save(order)
    return order
  })

  app.get('/', (_request, reply) =>
    reply
      .type('text/html')
      .send(
        page(
          settings.name,
          orderForm(settings) +
            card(
              'Look at an order',
              '<form action="/order"><div class="row"><label>Order number <input name="number" required></label><label>E-mail <input name="email" type="email" required></label></div><button>Show my order</button></form>',
            ) +
            '<nav><a href="/admin">Switches and read-out</a></nav>',
        ),
      ),
  )
  app.post('/order', (request, reply) => {
    const order = placeOrder(settings, books, z.record(z.string(), z.string()).parse(request.body))
    save(order)
    return reply.redirect(
      `/order?${new URLSearchParams({ number: order.number, email: order.customer.email }).toString()}`,
    )
  })
  app.get('/order', (request, reply) => {
    const { number, email } = z.object({ number: z.string(), email: z.string() }).parse(request.query)
    const order = books
      .newest<ShopOrder>('order', 100_000)
      .find(
        (row) =>
          row.document.number === number.trim() &&
          row.document.customer.email.toLowerCase() === email.trim().toLowerCase(),
      )?.document
    return order
      ? reply.type('text/html').send(page(`Order ${order.number}`, buyerView(order)))
      : reply
          .code(404)
          .type('text/html')
          .send(page('No such order', '<p>We find no order with this number and e-mail.</p>'))
  })
  app.addHook('onClose', () => books.close())
  return { app, books }
}

function orderForm(settings: ShopSettings): string {
  const field = (name: string, label: string, value: string, type = 'text'): string =>
    `<label>${label} <input name="${name}" type="${type}" value="${escapeHtml(value)}" required></label>`
  const products = settings.products
    .map(
      (product) =>
        `<option value="${escapeHtml(product.sku)}">${escapeHtml(product.title)}, ${product.price} €</option>`,
    )
    .join('')
  const methods = settings.shippingMethods.map((method) => `<option>${escapeHtml(method)}</option>`).join('')
  return card(
    'Place an order',
    `<form method="post" action="/order"><div class="row"><label>Product <select name="sku">${products}</select></label>${field('quantity', 'Pieces', '1', 'number')}<label>Shipping <select name="method">${methods}</select></label>
${field('name', 'Your name', 'Noor Van Acker')}${field('email', 'E-mail', 'noor@vanacker.example', 'email')}${field('street', 'Street and number', 'Coupure Links 88')}${field('postcode', 'Postcode', '9000')}${field('city', 'City', 'Gent')}${field('country', 'Country', 'BE')}</div><button>Place the order</button></form>`,
  )
}

function placeOrder(settings: ShopSettings, books: Books, form: Record<string, string>): ShopOrder {
  const product = settings.products.find((candidate) => candidate.sku === form.sku) ?? settings.products[0]!
  const quantity = Math.max(1, Math.floor(Number(form.quantity) || 1))
  const now = new Date().toISOString()
  return {
    id: randomUUID(),
    number: `MG-${90_001 + books.count('order')}`,
    status: 'open',
    placed_at: now,
    changed_at: now,
    promised_by: new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10),
    payment: 'card',
    shipping_method: form.method ?? '',
    currency: 'EUR',
    shipping: '4.95',
    total_items: ((Number(product.price.replace('.', '')) * quantity) / 100).toFixed(2),
    discount: '0.00',
    customer: { name: form.name ?? '', email: form.email ?? '', phone: '', returning: false },
    ship_to: {
      name: form.name ?? '',
      company: '',
      street: [form.street ?? ''],
      city: form.city ?? '',
      postcode: form.postcode ?? '',
      region: '',
      country: form.country ?? '',
    },
    lines: [{ ...product, id: '1', quantity }],
    fulfilments: [],
  }
}

function buyerView(order: ShopOrder): string {
  const parcels = order.fulfilments
    .filter((fulfilment) => !fulfilment.withdrawn)
    .map((fulfilment) => [
      fulfilment.carrier,
      fulfilment.tracking_number,
      `<a href="${escapeHtml(fulfilment.tracking_url)}">Where is it?</a>`,
    ])
  return (
    card('State', `<p id="state">${order.status}</p>`) +
    card(
      'Items',
      table(
        ['Item', 'Pieces'],
        order.lines.map((line) => [line.title, String(line.quantity)]),
      ),
    ) +
    card('Parcels', parcels.length > 0 ? table(['Carrier', 'Tracking number', ''], parcels) : '<p>Not shipped yet.</p>')
  )
}
