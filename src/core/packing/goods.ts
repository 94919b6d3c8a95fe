import { type Item, listKey } from '@/core/order'
import { admits, longestFirst, type PackagePreset } from './parcel'

/** All that packing asks of an order line: neither its price nor its title changes a parcel. */
export type Goods = Pick<Item, 'sku' | 'quantity' | 'unitWeight' | 'size' | 'tags' | 'dangerousGoods' | 'handling'>

/** Does not compile when goods get a field that `goodsKey` forgets. */
type Keyed = 'sku' | 'quantity' | 'unitWeight' | 'size' | 'tags' | 'dangerousGoods' | 'handling'
const between: Exclude<keyof Goods, Keyed> extends never ? '\u0001' : never = '\u0001'

/** A text that is the same for goods that are packed the same. */
export const goodsKey = ({ sku, quantity, unitWeight, size, tags, dangerousGoods, handling }: Goods): string =>
  `${sku}${between}${quantity} ${unitWeight} ${size ? `${size[0]} ${size[1]} ${size[2]}` : ''}${between}${listKey(tags)}${between}${dangerousGoods}${between}${listKey(handling)}`

/**
 * Whether a preset may hold a single piece of each item: false when one is longer, wider, higher or heavier than it
 * takes, so that no packing into it can succeed. Goods in their own box go into none anyway, and count as held.
 */
export const mayHoldEach = (preset: PackagePreset, goods: readonly Goods[]): boolean =>
  goods.every(
    ({ size, unitWeight, handling }) =>
      handling?.includes('own box') ||
      ((unitWeight ?? 0) <= preset.limit && (!size || admits(preset.inner, longestFirst(size)))),
  )
