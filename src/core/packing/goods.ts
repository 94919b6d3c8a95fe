import { type Item, listKey } from '@/core/order'

/** All that packing asks of an order line: neither its price nor its title changes a parcel. */
export type Goods = Pick<Item, 'sku' | 'quantity' | 'unitWeight' | 'size' | 'tags' | 'dangerousGoods' | 'handling'>

/** Does not compile when goods get a field that `goodsKey` forgets. */
type Keyed = 'sku' | 'quantity' | 'unitWeight' | 'size' | 'tags' | 'dangerousGoods' | 'handling'
const between: Exclude<keyof Goods, Keyed> extends never ? '\u0001' : never = '\u0001'

/** A text that is the same for goods that are packed the same. */
export const goodsKey = ({ sku, quantity, unitWeight, size, tags, dangerousGoods, handling }: Goods): string =>
  `${sku}${between}${quantity} ${unitWeight} ${size ? `${size[0]} ${size[1]} ${size[2]}` : ''}${between}${listKey(tags)}${between}${dangerousGoods}${between}${listKey(handling)}`
