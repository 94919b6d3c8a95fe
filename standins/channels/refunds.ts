import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { OrderBook } from './orderBook'

/** What a buyer of a sales channel got back. */
export interface ChannelRefund {
  readonly id: string
  readonly key: string
  readonly lines: readonly { readonly line: string; readonly quantity: number }[]
  /** Minor units. */
  readonly minor: number
  readonly currency: string
  readonly reason: string
}

interface Paid {
  readonly currency: string
  readonly paidMinor: number
  /** What was ordered of each line. */
  readonly lines: ReadonlyMap<string, number>
}
type Asked = Omit<ChannelRefund, 'id' | 'key'>

/** How a channel speaks of refunds. */
interface RefundManners<Order> {
  readonly paid: (order: Order) => Paid
  /** Reads what is asked for; what cannot be read is thrown. */
  readonly asked: (body: unknown) => Asked
  /** The status of a refusal, and the name of the refund in the answer. */
  readonly refusal: 409 | 422
  readonly name: string
}

/** Refunds of an order, once for a key; or why the channel pays nothing back. */
export function withRefunds<Order extends { refunds?: ChannelRefund[] }>(
  app: FastifyInstance,
  { find, save }: OrderBook<Order>,
  { paid, asked, refusal, name }: RefundManners<Order>,
): void {
  app.post<{ Params: { id: string } }>('/api/orders/:id/refunds', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const order = find(request.params.id)
    if (!order) return reply.code(404).send({ message: 'There is no such order.' })
    const { refunds = [] } = order
    const wanted = asked(request.body)
    const known = refunds.find((refund) => refund.key === key)
    if (known) return { [name]: known.id }
    const wrong = againstRefund(paid(order), refunds, wanted)
    if (wrong !== null) return reply.code(refusal).send({ message: wrong })
    const refund: ChannelRefund = { ...wanted, id: randomUUID(), key }
    save({ ...order, refunds: [...refunds, refund] })
    return reply.code(201).send({ [name]: refund.id })
  })
}

/** Why a channel pays nothing back; null where it does. */
function againstRefund(order: Paid, before: readonly ChannelRefund[], asked: Asked): string | null {
  if (asked.currency !== order.currency) return `The order was paid in ${order.currency}.`
  if (before.reduce((sum, { minor }) => sum + minor, asked.minor) > order.paidMinor)
    return 'That is more than was paid.'
  for (const { line, quantity } of asked.lines) {
    const ordered = order.lines.get(line)
    if (ordered === undefined) return `There is no line ${line}.`
    const back = before.flatMap(({ lines }) => lines).filter((one) => one.line === line)
    if (back.reduce((sum, one) => sum + one.quantity, quantity) > ordered)
      return `Of line ${line} no more pieces can come back.`
  }
  return null
}
