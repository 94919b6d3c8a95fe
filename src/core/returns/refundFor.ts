import type { Item, Order } from '@/core/order'
import { money, type Money } from '@/core/units'
import type { Pieces } from './pieces'

/** What of an order its refunds are worked out from. */
export interface Priced extends Pick<Order, 'value' | 'discount'> {
  readonly items: readonly Pick<Item, 'unitPrice' | 'quantity'>[]
}

/**
 * What of the price is due back for pieces that came back, in the order's currency: their share of what was paid for
 * all goods, so that a discount is spread over them by value. Shares are rounded on the way from what came back before
 * to what has come back now: whatever comes back in however many parcels, all together are what was paid, to the minor
 * unit. 0 where the items have no price.
 * @param before pieces that were paid back already, `now` those that come on top
 * @example refundFor({ items: [3 × 10.00], value: 30.00, discount: 1.00 }, [0], [1]) // 9.67
 */
export function refundFor(order: Priced, before: Pieces, now: Pieces): Money {
  const both = order.items.map((_, i) => (before[i] ?? 0) + (now[i] ?? 0))
  return money(shareOf(order, both) - shareOf(order, before), order.value.currency)
}

/** What pieces were sold for, without any discount, in the order's currency. */
export const returnedValue = ({ items, value }: Pick<Priced, 'items' | 'value'>, pieces: Pieces): Money =>
  money(Number(valueOf(items, pieces)), value.currency)

// Products of two amounts are beyond what a number holds exactly.
const valueOf = (items: Priced['items'], pieces: Pieces): bigint =>
  items.reduce(
    (sum, { unitPrice, quantity }, i) =>
      sum + BigInt(unitPrice.minor) * BigInt(Math.min(Math.max(0, pieces[i] ?? 0), quantity)),
    0n,
  )

/** The share of what was paid that falls to pieces, half up; it never falls when pieces are added. */
function shareOf({ items, value, discount }: Priced, pieces: Pieces): number {
  const all = valueOf(
    items,
    items.map(({ quantity }) => quantity),
  )
  if (all === 0n) return 0
  // What the channel says the goods come to, where it says it; else what the lines come to.
  const goods = value.minor > 0 ? BigInt(value.minor) : all
  const off = discount.currency === value.currency ? BigInt(discount.minor) : 0n
  const paid = goods > off ? goods - off : 0n
  return Number((2n * paid * valueOf(items, pieces) + all) / (2n * all))
}
