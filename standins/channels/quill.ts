import { createHmac, randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { openBooks, type Books } from '../books'
import { withFaults } from '../faults'
import { card, escapeHtml, page } from '../html'
import { openOrderBook, type OrderBook, withScene } from './orderBook'
import { type ChannelRefund, withRefunds } from './refunds'
import { makeServer } from '../server'

export interface QuillShipment {
  shipment: string
  key: string
  carrier: string
  tracking: string
  link: string
  positions: { no: string; pieces: number }[]
  withdrawn: boolean
}
export interface QuillOrder {
  id: string
  number: string
  status: 'new' | 'part shipped' | 'shipped' | 'cancelled'
  placed: string
  /** Grows with each change of the order. */
  revised: string
  promise: string
  method: string
  currency: string
  goods: string
  postage: string
  buyer: { name: string; email: string }
  deliver_to: {
    name: string
    street: string
    house_number: string
    extra: string
    zip: string
    city: string
    state: string
    country: string
    phone: string
  }
  positions: { no: string; sku: string; name: string; ordered: number; cancelled: number; each: string }[]
  shipments: QuillShipment[]
  refunds?: ChannelRefund[]
}
export interface QuillSettings {
  readonly file: string
  readonly name: string
  readonly key: string
  readonly signingSecret: string
}

interface Sent {
  event: string
  about: string
  status: number
  tries: number
}
/** So many calls in so many seconds. */
interface Limit {
  calls: number
  seconds: number
}
/** How messages go wrong on purpose. */
const habitsShape = z.object({
  to: z.string(),
  /** Each message goes out twice. */
  twice: z.boolean(),
  /** Messages wait for others, and leave the last first. */
  backwards: z.boolean(),
  /** Messages say only which order it is about. */
  bare: z.boolean(),
  /** This share of messages is lost on the way; polling has to find them. */
  lost: z.number().min(0).max(1),
})
type Habits = z.infer<typeof habitsShape>

/** A marketplace that pushes: each change of an order leaves as a signed message, and calls are counted strictly. */
export function quillStandIn(settings: QuillSettings): { app: FastifyInstance; books: Books } {
  const app = makeServer()
  const books = openBooks(settings.file)
  const { hits } = withFaults(app, settings.name)
  const habits: Habits = { to: '', twice: false, backwards: false, bare: false, lost: 0 }
  const sent: Sent[] = []
  const post = postman(settings, habits, sent)
  withCountedCalls(app, settings.key)
  const kept = openOrderBook<QuillOrder>({ books, hits, idOf: ({ id }) => id, stamped: revised })
  /** Each change leaves as a message. */
  const save = (order: QuillOrder): QuillOrder => {
    const saved = kept.save(order)
    post.send(saved)
    return saved
  }
  const book: OrderBook<QuillOrder> = { ...kept, save }
  withOrders(app, book)
  withShipments(app, book)
  withRefunds(app, book, {
    paid: ({ currency, goods, postage, positions }) => ({
      currency,
      paidMinor: minors(goods) + minors(postage),
      lines: new Map(positions.map(({ no, ordered, cancelled }) => [no, ordered - cancelled])),
    }),
    asked: (body) => {
      const { positions, amount, currency, because } = refundRequest.parse(body)
      return {
        lines: positions.map(({ no, pieces }) => ({ line: no, quantity: pieces })),
        ...{ minor: minors(amount), currency, reason: because },
      }
    },
    ...{ refusal: 409, name: 'refund' },
  })
  // Orders of before are in the books, and nobody is told.
  withScene(app, { books, book, store: (order) => books.put('order', order.id, order) })
  app.post('/admin/habits', (request) => Object.assign(habits, habitsShape.partial().parse(request.body)))
  app.get('/admin/sent', () => sent)
  app.post('/admin/flush', async () => {
    await post.settled()
    return { sent: sent.length }
  })
  app.get('/', (_request, reply) => reply.type('text/html').send(page(settings.name, ordersPage(books, habits))))
  app.post('/change', (request, reply) => {
    const { id, what } = z
      .object({ id: z.string(), what: z.enum(['cancel one', 'cancel all', 'split']) })
      .parse(request.body)
    const order = book.find(id)
    if (order) for (const changed of changedBy(order, what)) save(changed)
    return reply.redirect('/')
  })
  app.addHook('onClose', async () => {
    await post.settled()
    books.close()
  })
  return { app, books }
}

const minors = (amount: string): number => Math.round(Number(amount) * 100)
const refundRequest = z.object({
  positions: z.array(z.object({ no: z.string(), pieces: z.number().int().positive() })),
  ...{ amount: z.string().regex(/^\d+(?:\.\d{2})?$/), currency: z.string(), because: z.string() },
})

/** Each change of an order has a moment of its own. */
function revised(order: QuillOrder, known: QuillOrder | undefined): QuillOrder {
  const before = known?.revised ?? ''
  const now = new Date().toISOString()
  return { ...order, revised: now > before ? now : new Date(Date.parse(before) + 1).toISOString() }
}

/** So many calls in so many seconds, and none without the key. */
function withCountedCalls(app: FastifyInstance, accessKey: string): void {
  const limit: Limit = { calls: 60, seconds: 10 }
  let window = { from: 0, calls: 0 }
  app.addHook('onRequest', async (request, reply) => {
    if (!request.url.startsWith('/api/')) return
    const now = Date.now()
    if (now - window.from >= limit.seconds * 1000) window = { from: now, calls: 0 }
    const reset = Math.ceil((window.from + limit.seconds * 1000 - now) / 1000)
    window.calls++
    void reply.headers({
      'ratelimit-limit': String(limit.calls),
      'ratelimit-remaining': String(Math.max(0, limit.calls - window.calls)),
      'ratelimit-reset': String(reset),
    })
    if (window.calls > limit.calls)
      return reply.code(429).header('retry-after', String(reset)).send({ message: 'All calls of this while are used.' })
    if (request.headers['x-access-key'] !== accessKey)
      return reply.code(401).send({ message: 'The access key is wrong.' })
  })
  app.post('/admin/limit', (request) => {
    window = { from: 0, calls: 0 }
    return Object.assign(limit, z.object({ calls: z.number(), seconds: z.number() }).parse(request.body))
  })
}

/** Orders as they change, page by page, and one by one. */
function withOrders(app: FastifyInstance, book: OrderBook<QuillOrder>): void {
  app.get('/api/orders', (request) => {
    const { cursor, limit } = z
      .object({
        cursor: z.string().regex(/^\d*$/).default(''),
        limit: z.coerce.number().int().min(1).max(200).default(50),
      })
      .parse(request.query)
    const { orders, last, more } = book.changed(Number(cursor) || 0, limit)
    return { orders, cursor: String(last), more }
  })
  app.get<{ Params: { id: string } }>(
    '/api/orders/:id',
    (request, reply) => book.find(request.params.id) ?? reply.code(404).send({ message: 'There is no such order.' }),
  )
}

const shipmentRequest = z.object({
  carrier: z.string().min(1),
  tracking: z.string().regex(/^\S+$/, 'must not contain blanks'),
  link: z.string(),
  positions: z.array(z.object({ no: z.string(), pieces: z.number().int().positive() })).min(1),
})

/** What was sent of an order, told once for a key, and taken back. */
function withShipments(app: FastifyInstance, { find, save }: OrderBook<QuillOrder>): void {
  app.post<{ Params: { id: string } }>('/api/orders/:id/shipments', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const known = order.shipments.find((shipment) => shipment.key === key)
    if (known) return { shipment: known.shipment }
    const body = shipmentRequest.parse(request.body)
    if (order.status === 'cancelled') return reply.code(409).send({ message: 'The order is cancelled.' })
    const shipment: QuillShipment = { shipment: randomUUID(), key, ...body, withdrawn: false }
    const shipments = [...order.shipments, shipment]
    const over = order.positions.find(({ no, ordered, cancelled }) => shippedOf(shipments, no) > ordered - cancelled)
    if (over) return reply.code(409).send({ message: `Of position ${over.no} no more pieces are to be sent.` })
    save({ ...order, shipments, status: statusOf(order, shipments) })
    return reply.code(201).send({ shipment: shipment.shipment })
  })
  app.post<{ Params: { id: string } }>('/api/orders/:id/shipments/withdraw', (request, reply) => {
    const order = find(request.params.id)
    const { tracking } = z.object({ tracking: z.string() }).parse(request.body)
    const found = order?.shipments.find((shipment) => shipment.tracking === tracking)
    if (!order || !found) return reply.code(404).send({ message: 'There is no such shipment.' })
    const shipments = order.shipments.map((shipment) =>
      shipment === found ? { ...shipment, withdrawn: true } : shipment,
    )
    save({ ...order, shipments, status: statusOf(order, shipments) })
    return { shipment: found.shipment }
  })
}

/** Sends messages, one after the other and again when they are not taken. */
function postman({ signingSecret }: QuillSettings, habits: Habits, sent: Sent[]) {
  let waiting: QuillOrder[] = []
  let running: Promise<void> = Promise.resolve()
  let timer: NodeJS.Timeout | undefined
  async function deliver(order: QuillOrder): Promise<void> {
    const event = randomUUID()
    const body = JSON.stringify({ event, about: order.id, ...(habits.bare ? {} : { order }) })
    for (let tries = 1; tries <= 5; tries++) {
      const stamp = String(Math.floor(Date.now() / 1000))
      const signature = createHmac('sha256', signingSecret).update(`${stamp}.${body}`).digest('hex')
      const status = await fetch(habits.to, {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'message-timestamp': stamp,
          'message-signature': `v1=${signature}`,
        },
        body,
      }).then(
        (answer) => answer.status,
        () => 0,
      )
      if (tries === 1) sent.push({ event, about: order.id, status, tries })
      else
        Object.assign(
          sent.find((each) => each.event === event)!,
          { status, tries },
        )
      if (status >= 200 && status < 300) {
        if (habits.twice && tries === 1) continue
        return
      }
      await new Promise((resolve) => setTimeout(resolve, 300 * tries))
    }
  }
  const leave = (): void => {
    const now = habits.backwards ? waiting.reverse() : waiting
    waiting = []
    running = running.then(async () => {
      for (let i = 0; i < now.length; i += 20) await Promise.all(now.slice(i, i + 20).map(deliver))
    })
  }
  return {
    send: (order: QuillOrder): void => {
      if (habits.to === '' || Math.random() < habits.lost) return
      waiting.push(order)
      clearTimeout(timer)
      if (habits.backwards) timer = setTimeout(leave, 100)
      else leave()
    },
    settled: async (): Promise<void> => {
      clearTimeout(timer)
      leave()
      await running
    },
  }
}

const shippedOf = (shipments: readonly QuillShipment[], no: string): number =>
  shipments
    .filter(({ withdrawn }) => !withdrawn)
    .flatMap(({ positions }) => positions)
    .filter((position) => position.no === no)
    .reduce((sum, { pieces }) => sum + pieces, 0)

function statusOf({ positions }: QuillOrder, shipments: readonly QuillShipment[]): QuillOrder['status'] {
  const left = positions.filter(({ no, ordered, cancelled }) => shippedOf(shipments, no) < ordered - cancelled)
  if (left.length === 0) return 'shipped'
  return shipments.some(({ withdrawn }) => !withdrawn) ? 'part shipped' : 'new'
}

/** What the order, and a second one, become. */
function changedBy(order: QuillOrder, what: 'cancel one' | 'cancel all' | 'split'): QuillOrder[] {
  const { positions } = order
  switch (what) {
    case 'cancel all':
      return [
        { ...order, status: 'cancelled', positions: positions.map((each) => ({ ...each, cancelled: each.ordered })) },
      ]
    case 'cancel one': {
      const at = positions.findIndex(({ ordered, cancelled }) => ordered > cancelled)
      return [
        {
          ...order,
          positions: positions.map((each, i) => (i === at ? { ...each, cancelled: each.cancelled + 1 } : each)),
        },
      ]
    }
    case 'split': {
      const [first, ...rest] = positions
      if (!first || rest.length === 0) return []
      const part = {
        ...order,
        id: `${order.id}-b`,
        number: `${order.number}-B`,
        positions: rest,
        shipments: [],
        revised: '',
      }
      return [{ ...order, positions: [first] }, part]
    }
  }
}

function ordersPage(books: Books, { to }: Habits): string {
  const rows = books.newest<QuillOrder>('order', 40).map(({ document: order }) => {
    const lines = order.positions
      .map(({ name, ordered, cancelled }) => `${ordered - cancelled} × ${escapeHtml(name)}`)
      .join('<br>')
    const buttons = (['cancel one', 'split', 'cancel all'] as const)
      .map((what) => `<button name="what" value="${what}">${what}</button>`)
      .join(' ')
    return `<tr><td>${escapeHtml(order.number)}</td><td>${order.status}</td><td>${lines}</td><td><form method="post" action="/change"><input type="hidden" name="id" value="${escapeHtml(order.id)}">${buttons}</form></td></tr>`
  })
  return (
    card('Messages go to', `<p>${to === '' ? 'nobody' : `<code>${escapeHtml(to)}</code>`}</p>`) +
    card(
      'Orders, changed last first',
      `<table><thead><tr><th>Order</th><th>Status</th><th>What is left of it</th><th>Change it</th></tr></thead><tbody>${rows.join('')}</tbody></table>`,
    ) +
    '<nav><a href="/admin">Switches and read-out</a></nav>'
  )
}
