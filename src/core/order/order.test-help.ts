import { normaliseOrder } from './normalise'
import type { Order } from './order'

/** A sound order, with what a test changes in it. */
export const testOrder = ({
  shipTo,
  email = 'noor@post.example',
  line = '1',
  ...more
}: {
  shipTo?: object
  email?: string
  line?: string
  number?: string
  promisedBy?: string
  value?: string
  wording?: string
}): Order =>
  normaliseOrder(
    {
      id: '1',
      number: 'N-1',
      placedAt: '2026-11-20T07:00:00Z',
      wording: 'Free',
      value: '20.00',
      buyer: { name: 'Noor Van Acker', email },
      shipTo: {
        name: 'Noor Van Acker',
        lines: ['Coupure 8'],
        city: 'Gent',
        postcode: '9000',
        country: 'BE',
        ...shipTo,
      },
      items: [{ line, sku: 'A', quantity: 1, weight: 500, price: '20.00', size: [100, 80, 50] }],
      ...more,
    },
    'shop',
    new Map(),
  )
