import type { Item } from './order'

type Keyed =
  | 'line'
  | 'sku'
  | 'title'
  | 'quantity'
  | 'unitWeight'
  | 'unitPrice'
  | 'size'
  | 'tags'
  | 'dangerousGoods'
  | 'hsCode'
  | 'origin'
  | 'handling'
/** Does not compile when an item gets a field that `itemKey` forgets. */
const keyed: Exclude<keyof Item, Keyed> extends never ? '\u0001' : never = '\u0001'

/** A text that is the same for equal items; which line of the channel's order it is does not count. */
export const itemKey = ({
  sku,
  title,
  quantity,
  unitWeight,
  unitPrice,
  size,
  tags,
  dangerousGoods,
  hsCode,
  origin,
  handling,
}: Item): string =>
  `${sku}${keyed}${title}${keyed}${quantity} ${unitWeight} ${unitPrice.minor} ${unitPrice.currency} ${size ? `${size[0]} ${size[1]} ${size[2]}` : ''}${keyed}${listKey(tags)}${keyed}${dangerousGoods}${keyed}${hsCode}${keyed}${origin}${keyed}${listKey(handling)}`

/** A list of texts as one, for keys. */
export const listKey = (list: readonly string[] | undefined): string => {
  if (!list || list.length === 0) return ''
  return list.length === 1 ? list[0]! : list.join('\u0002')
}
