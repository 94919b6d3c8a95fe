import { createServer } from 'node:http'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { openBooks, type Books } from '../books'
import { withFaults } from '../faults'
import { card, escapeHtml, page, table } from '../html'
import {
  type Authorisation,
  laneAuthorisation,
  type LaneApplication,
  type LaneAuthorisation,
} from './laneAuthorisation'
import { openOrderBook, type OrderBook, withScene } from './orderBook'
import { type ChannelRefund, withRefunds } from './refunds'
import { makeServer } from '../server'

export interface LaneDespatch {
  carrierCode: string
  trackingNumber: string
  lines: { lineId: string; quantity: number }[]
  key: string
  at: string
  withdrawn: boolean
}
export interface LaneOrder {
  orderId: string
  reference: string
  state: 'TO_DESPATCH' | 'DESPATCHED' | 'CANCELLED'
  createdAt: string
  deliverBy: string
  deliveryOption: string
  currency: string
  /** In minor units. */
  amounts: { goods: number; delivery: number; discount: number }
  /** Reaches the buyer by way of the marketplace. */
  relayAddress: string
  recipient: {
    fullName: string
    company: string
    line1: string
    line2: string
    town: string
    postalCode: string
    county: string
    countryCode: string
    phone: string
  }
  lines: { lineId: string; sellerSku: string; title: string; quantity: number; unitPrice: number; grams: number }[]
  despatches: LaneDespatch[]
  refunds?: ChannelRefund[]
}
/** A carrier as the marketplace names it, with the form that its tracking numbers have. */
export interface LaneCarrier {
  readonly code: string
  readonly name: string
  readonly number: string
}

export interface LaneSettings {
  readonly file: string
  readonly name: string
  /** Where it is reached, as its authorisation server must know. */
  readonly address: string
  readonly application: LaneApplication
  readonly carriers: readonly LaneCarrier[]
}

/**
 * A marketplace that must be authorised: OAuth 2.0, orders behind a token, despatches checked against its own list of
 * carriers.
 */
export function laneStandIn(settings: LaneSettings): { app: FastifyInstance; books: Books } {
  let authorise: ReturnType<typeof laneAuthorisation>['handle'] = () => undefined
  const app = makeServer((handler) =>
    createServer((request, response) =>
      request.url?.startsWith('/authorise') ? authorise(request, response) : handler(request, response),
    ),
  )
  const books = openBooks(settings.file)
  const { hits } = withFaults(app, settings.name)
  const authorisations = laneAuthorisation(app, books, settings)
  authorise = authorisations.handle
  app.addHook('onRequest', async (request, reply) => {
    if (!request.url.startsWith('/api/')) return
    const token = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1]
    if (!token || !(await authorisations.of(token)))
      return reply.code(401).send({ message: 'The access token is not valid (any more).' })
  })
  app.get('/api/authorisation', async (request) => {
    const found = (await authorisations.of(request.headers.authorization!.slice(7)))!
    return { shop: 'Mossgill Aquatics', country: found.country, until: found.until }
  })
  app.get('/api/carriers', () => ({ carriers: settings.carriers }))
  const book = openOrderBook<LaneOrder>({ books, hits, idOf: ({ orderId }) => orderId, stamped: (order) => order })
  withOrders(app, book)
  withDespatches(app, book, settings.carriers)
  withRefunds(app, book, {
    paid: ({ currency, amounts, lines }) => ({
      currency,
      paidMinor: amounts.goods + amounts.delivery - (amounts.discount ?? 0),
      lines: new Map(lines.map(({ lineId, quantity }) => [lineId, quantity])),
    }),
    asked: (body) => {
      const { lines, amount, currency, reason } = refundRequest.parse(body)
      return {
        lines: lines.map(({ lineId, quantity }) => ({ line: lineId, quantity })),
        minor: amount,
        currency,
        reason,
      }
    },
    ...{ refusal: 422, name: 'refundId' },
  })
  withScene(app, { books, book, store: book.save })
  withSellersPage(app, books, authorisations, settings)
  app.addHook('onClose', () => books.close())
  return { app, books }
}

const refundRequest = z.object({
  lines: z.array(z.object({ lineId: z.string(), quantity: z.number().int().positive() })),
  ...{ amount: z.number().int().nonnegative(), currency: z.string(), reason: z.string() },
})

/** Orders as they change, page by page. */
function withOrders(app: FastifyInstance, book: OrderBook<LaneOrder>): void {
  app.get('/api/orders', (request) => {
    const { after, size } = z
      .object({
        after: z.string().regex(/^\d*$/).default(''),
        size: z.coerce.number().int().min(1).max(200).default(50),
      })
      .parse(request.query)
    const { orders, last, more } = book.changed(Number(after) || 0, size)
    return { items: orders, next: String(last), complete: !more }
  })
}

const despatchRequest = z.object({
  carrierCode: z.string(),
  trackingNumber: z.string(),
  lines: z.array(z.object({ lineId: z.string(), quantity: z.number().int().positive() })).min(1),
})

/** What was sent of an order, told once for a key, and taken back. */
function withDespatches(
  app: FastifyInstance,
  { find, save }: OrderBook<LaneOrder>,
  carriers: readonly LaneCarrier[],
): void {
  type OfOrder = { Params: { id: string } }
  app.get<OfOrder>('/api/orders/:id/despatches', (request, reply) => {
    const order = find(request.params.id)
    return order ? { despatches: order.despatches } : reply.code(404).send({ message: 'There is no such order.' })
  })
  app.post<OfOrder>('/api/orders/:id/despatches', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const known = order.despatches.find((despatch) => despatch.key === key)
    if (known) return { trackingNumber: known.trackingNumber }
    const body = despatchRequest.parse(request.body)
    const wrong = refusalOf(carriers, order, body)
    if (wrong) return reply.code(422).send({ message: wrong })
    const despatches = [...order.despatches, { ...body, key, at: new Date().toISOString(), withdrawn: false }]
    save({ ...order, despatches, state: isComplete(order, despatches) ? 'DESPATCHED' : order.state })
    return reply.code(201).send({ trackingNumber: body.trackingNumber })
  })
  app.post<OfOrder>('/api/orders/:id/despatches/withdraw', (request, reply) => {
    const order = find(request.params.id)
    const { trackingNumber } = z.object({ trackingNumber: z.string() }).parse(request.body)
    if (!order?.despatches.some((despatch) => despatch.trackingNumber === trackingNumber))
      return reply.code(404).send({ message: 'There is no such despatch.' })
    const despatches = order.despatches.map((despatch) =>
      despatch.trackingNumber === trackingNumber ? { ...despatch, withdrawn: true } : despatch,
    )
    save({ ...order, despatches, state: order.state === 'DESPATCHED' ? 'TO_DESPATCH' : order.state })
    return { trackingNumber }
  })
}

/** The seller's own page, on which access is withdrawn; and what tests change of authorisations. */
function withSellersPage(
  app: FastifyInstance,
  books: Books,
  authorisations: LaneAuthorisation,
  settings: LaneSettings,
): void {
  const changeAll = (change: Partial<Pick<Authorisation, 'until' | 'withdrawn'>>): void => {
    for (const { grant, withdrawn } of authorisations.all()) if (!withdrawn) authorisations.change(grant, change)
  }
  app.get('/admin/authorisations', () => authorisations.all())
  app.post('/admin/tokens', (request) => {
    authorisations.accessSeconds(z.object({ accessSeconds: z.number().positive() }).parse(request.body).accessSeconds)
    return {}
  })
  app.post('/admin/authorisations', (request) => {
    const { until, withdrawn } = z
      .object({ until: z.iso.datetime().optional(), withdrawn: z.boolean().optional() })
      .parse(request.body)
    changeAll({ ...(until === undefined ? {} : { until }), ...(withdrawn === undefined ? {} : { withdrawn }) })
    return authorisations.all()
  })
  app.get('/', (_request, reply) =>
    reply.type('text/html').send(page(settings.name, sellersPage(authorisations.all(), books, settings))),
  )
  app.post('/withdraw', (_request, reply) => {
    changeAll({ withdrawn: true })
    return reply.redirect('/')
  })
}

const isComplete = (order: LaneOrder, despatches: readonly LaneDespatch[]): boolean =>
  order.lines.every(({ lineId, quantity }) => pieces(despatches, lineId) >= quantity)
const pieces = (despatches: readonly Pick<LaneDespatch, 'withdrawn' | 'lines'>[], line: string): number =>
  despatches
    .filter(({ withdrawn }) => !withdrawn)
    .flatMap(({ lines }) => lines)
    .filter(({ lineId }) => lineId === line)
    .reduce((sum, { quantity }) => sum + quantity, 0)

/** Why a despatch is not taken; undefined when it is. */
function refusalOf(
  carriers: readonly LaneCarrier[],
  order: LaneOrder,
  { carrierCode, trackingNumber, lines }: Pick<LaneDespatch, 'carrierCode' | 'trackingNumber' | 'lines'>,
): string | undefined {
  if (order.state === 'CANCELLED') return 'The order is cancelled.'
  const carrier = carriers.find(({ code }) => code === carrierCode)
  if (!carrier) return `${carrierCode} is not in our list of carriers.`
  if (/\s/.test(trackingNumber)) return 'A tracking number has no blanks.'
  if (!new RegExp(`^(?:${carrier.number})$`).test(trackingNumber))
    return `${trackingNumber} is not a tracking number of ${carrier.name}.`
  const after = [...order.despatches, { lines: [...lines], withdrawn: false }]
  const over = order.lines.find((line) => pieces(after, line.lineId) > line.quantity)
  return over && `Of line ${over.lineId} ${over.quantity} were ordered: more are despatched already.`
}

function sellersPage(
  authorisations: readonly { country: string; until: string; withdrawn: boolean }[],
  books: Books,
  { application, carriers }: LaneSettings,
): string {
  const now = new Date().toISOString()
  const stateOf = ({ until, withdrawn }: { until: string; withdrawn: boolean }): string => {
    if (withdrawn) return 'withdrawn'
    return until < now ? 'ended' : 'in force'
  }
  const orders = books.newest<LaneOrder>('order', 50).map(({ document }) => document)
  return (
    card(
      'Applications that you have allowed',
      table(
        ['Application', 'Country', 'Until', 'State'],
        authorisations.map((each) => [application.name, each.country, each.until.slice(0, 10), stateOf(each)]),
      ) + '<form method="post" action="/withdraw"><button>Withdraw access</button></form>',
    ) +
    card(
      'Orders, changed last first',
      table(
        ['Order', 'State', 'Deliver by', 'Despatched with'],
        orders.map(({ reference, state, deliverBy, despatches }) => [
          reference,
          state,
          deliverBy,
          despatches
            .map((each) => `${each.carrierCode} ${each.trackingNumber}${each.withdrawn ? ' (withdrawn)' : ''}`)
            .join(', '),
        ]),
      ),
    ) +
    card(
      'Our list of carriers',
      table(
        ['Code', 'Carrier'],
        carriers.map(({ code, name }) => [code, escapeHtml(name)]),
      ),
    ) +
    '<nav><a href="/admin">Switches and read-out</a></nav>'
  )
}
