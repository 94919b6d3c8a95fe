import type { Item, Order } from '@/core/order'
import type { LabelParcel } from '@/data'

/** The items in a parcel, each with the pieces that are in it; where the books do not say what is inside, all of the order. */
export const itemsIn = (order: Order, { contents }: Pick<LabelParcel, 'contents'>): Item[] =>
  contents.length === 0 ? [...order.items] : contents.flatMap(({ item, quantity }) => (order.items[item] ? [{ ...order.items[item], quantity }] : []))
