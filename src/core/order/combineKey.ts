import { money, type Rates, toHome } from '@/core/units'
import type { Order } from './order'
import { foldText } from './text'

/**
 * What orders have in common that can go as one shipment: the buyer, told by e-mail, telephone or name, and the place.
 * Empty when the buyer or the place is not known well enough.
 */
export function combineKey({ buyer, shipTo }: Order): string {
  const who = foldText(buyer.email || buyer.phone || buyer.name || shipTo.name)
  const where = [shipTo.country, shipTo.postcode.replace(/\s/g, ''), shipTo.city, ...shipTo.lines].map(foldText)
  return who === '' || shipTo.country === '' || shipTo.lines.length === 0
    ? ''
    : [who, foldText(shipTo.name), foldText(shipTo.company), ...where].join('|')
}

/** An order of the books that goes with others. */
export interface Member {
  readonly id: number
  readonly order: Order
}

const mark = '/'

/** The channel's own line, and the order it is of, in a shipment of several orders. */
export function memberLine(line: string): { readonly member: number; readonly line: string } {
  const at = line.indexOf(mark)
  return { member: Number(line.slice(0, at)), line: line.slice(at + 1) }
}

/**
 * Several orders as one shipment. The one that is promised first, or was placed first, leads: its channel, wording and
 * address count. Items keep the order they are of in their line (`memberLine`). Amounts of different currencies are
 * added in the home currency; null where one has no exchange rate. At least two orders, of one way of payment.
 */
export function combineOrders(members: readonly Member[], rates: Rates): Order | null {
  const [lead, ...rest] = [...members].sort(
    (a, b) =>
      (a.order.promisedBy || '9').localeCompare(b.order.promisedBy || '9') ||
      a.order.placedAt.localeCompare(b.order.placedAt) ||
      a.id - b.id,
  )
  const all = [lead!, ...rest].map(({ order }) => order)
  const together = (of: (order: Order) => Order['value']): Order['value'] | null => {
    const amounts = all.map(of)
    if (amounts.every(({ currency }) => currency === amounts[0]!.currency))
      return money(
        amounts.reduce((sum, { minor }) => sum + minor, 0),
        amounts[0]!.currency,
      )
    const home = amounts.map((amount) => toHome(amount, rates))
    return home.includes(null)
      ? null
      : money(
          home.reduce<number>((sum, minor) => sum + minor!, 0),
          rates.home,
        )
  }
  const [value, shippingPaid, discount] = [
    together((order) => order.value),
    together((order) => order.shippingPaid),
    together((order) => order.discount),
  ]
  if (!value || !shippingPaid || !discount) return null
  return {
    ...lead!.order,
    value,
    shippingPaid,
    discount,
    number: all.map(({ number }) => number).join(' + '),
    items: [lead!, ...rest].flatMap(({ id, order }) =>
      order.items.map((item) => ({ ...item, line: `${id}${mark}${item.line}` })),
    ),
    problems: all
      .flatMap(({ problems }) => problems)
      .filter((problem, i, list) => list.findIndex(({ sentence }) => sentence === problem.sentence) === i),
  }
}
