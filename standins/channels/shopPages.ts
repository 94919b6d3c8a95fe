import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { Books } from '../books'
import { card, escapeHtml, page, table } from '../html'
import type { OrderBook } from './orderBook'
import type { ShopOrder, ShopSettings } from './shopOrder'

/** The shop as its buyers see it: ordering, and looking at an order. */
export function withBuyerPages(
  app: FastifyInstance,
  books: Books,
  book: OrderBook<ShopOrder>,
  settings: ShopSettings,
): void {
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
    const placed = placeOrder(settings, books, z.record(z.string(), z.string()).parse(request.body))
    const { number, customer } = book.save(placed)
    return reply.redirect(`/order?${new URLSearchParams({ number, email: customer.email }).toString()}`)
  })
  app.get('/order', (request, reply) => {
    const { number, email } = z.object({ number: z.string(), email: z.string() }).parse(request.query)
    const order = book
      .newest(100_000)
      .find((each) => each.number === number.trim() && each.customer.email.toLowerCase() === email.trim().toLowerCase())
    return order
      ? reply.type('text/html').send(page(`Order ${order.number}`, buyerView(order)))
      : reply
          .code(404)
          .type('text/html')
          .send(page('No such order', '<p>We find no order with this number and e-mail.</p>'))
  })
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
