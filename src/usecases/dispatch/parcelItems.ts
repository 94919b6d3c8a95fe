import { type Item, memberLine, type Order } from '@/core/order'
import type { LabelParcel } from '@/data'

/**
 * The items in a parcel, each with the pieces that are in it; where the books do not say what is inside, all of the
 * order.
 */
export const itemsIn = (order: Order, { contents }: Pick<LabelParcel, 'contents'>): Item[] =>
  contents.length === 0
    ? [...order.items]
    : contents.flatMap(({ item, quantity }) =>
        quantity > 0 && order.items[item] ? [{ ...order.items[item], quantity }] : [],
      )

/** The channel's own lines of an order in a parcel of a shipment, which is the order itself or is made of several. */
export const linesFor = (
  order: number,
  shipment: number,
  facts: Order,
  parcel: Pick<LabelParcel, 'contents'>,
): { readonly line: string; readonly quantity: number }[] =>
  itemsIn(facts, parcel).flatMap(({ line, quantity }) => {
    if (order === shipment) return [{ line, quantity }]
    const own = memberLine(line)
    return own.member === order ? [{ line: own.line, quantity }] : []
  })
