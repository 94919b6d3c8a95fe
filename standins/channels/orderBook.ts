import type { FastifyInstance } from 'fastify'
import type { Books } from '../books'
import { changesOf } from '../changes'
import type { FaultSwitches } from '../faults'

/** The orders of a sales channel. */
export interface OrderBook<Order> {
  readonly find: (id: string) => Order | undefined
  /** Keeps what became of an order. */
  readonly save: (order: Order) => Order
  /** What changed after a running number, oldest change first; with the fault "twice" each order comes twice. */
  readonly changed: (after: number, most: number) => { orders: Order[]; last: number; more: boolean }
  /** The youngest so many. */
  readonly newest: (most: number) => Order[]
}

interface OrderBookSettings<Order> {
  readonly books: Books
  readonly hits: FaultSwitches['hits']
  readonly idOf: (order: Order) => string
  /** What a change does to the order itself, such as its time of change. */
  readonly stamped: (order: Order, before: Order | undefined) => Order
}

/** The orders that are in the books. */
export function openOrderBook<Order>({ books, hits, idOf, stamped }: OrderBookSettings<Order>): OrderBook<Order> {
  const find = (id: string): Order | undefined => books.get<Order>('order', id)
  return {
    find,
    save: (order) => {
      const saved = stamped(order, find(idOf(order)))
      books.put('order', idOf(order), saved)
      return saved
    },
    changed: (after, most) => {
      const { documents, last, more } = changesOf<Order>(books, hits, 'order', after, most)
      return { orders: documents, last, more }
    },
    newest: (most) => books.newest<Order>('order', most).map(({ document }) => document),
  }
}

interface SceneSettings<Order> {
  readonly books: Books
  readonly book: OrderBook<Order>
  /** How an order that a test names goes into the books; nobody is told. */
  readonly store: (order: Order) => void
}

/** What tests and the demo need to set the scene: orders put there, read, and changed by the channel itself. */
export function withScene<Order>(app: FastifyInstance, { books, book, store }: SceneSettings<Order>): void {
  app.post('/admin/orders', (request) => {
    const orders = request.body as Order[]
    books.together(() => orders.forEach(store))
    return { stored: orders.length }
  })
  // The youngest so many; all of them, where nobody says how many.
  app.get<{ Querystring: { most?: string } }>('/admin/orders', ({ query }) =>
    book.newest(Number(query.most) || 100_000),
  )
  app.post<{ Params: { id: string } }>('/admin/orders/:id', (request) =>
    book.save({ ...book.find(request.params.id)!, ...(request.body as Partial<Order>) }),
  )
}
