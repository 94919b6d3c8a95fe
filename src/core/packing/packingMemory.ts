import { type Goods, goodsKey } from './goods'
import { pack, type Packed, type PackingWishes, packSmaller } from './pack'
import type { PackagePreset, Parcel } from './parcel'

/** How items are packed, and the other ways in smaller parcels, where they were asked for. */
export interface PackedWays {
  readonly packed: Packed
  readonly others: readonly (readonly Parcel[])[]
}

/**
 * Packs items as `pack` does, and as `packSmaller` does when `smaller`; what was asked before is not worked out again.
 */
export type PackingMemory = (items: readonly Goods[], wishes: PackingWishes, smaller: boolean) => PackedWays

/**
 * The same baskets come again and again: most orders are one or two of what sells best. At most twice
 * `mostYoung` are kept: those asked for since the last clearing, and those of the time before it.
 */
export function packingMemory(presets: readonly PackagePreset[], mostYoung = 3_000): PackingMemory {
  let young = new Map<string, PackedWays>()
  let old = young
  return (items, wishes, smaller) => {
    let key = `${smaller} ${wishesKey(wishes)}`
    for (const item of items) key += `\n${goodsKey(item)}`
    const known = young.get(key)
    if (known) return known
    const ways = old.get(key) ?? packedWays(items, presets, wishes, smaller)
    if (young.size >= mostYoung) {
      old = young
      young = new Map()
    }
    young.set(key, ways)
    return ways
  }
}

/** Most orders have no wishes but a weight to add; then nothing is made JSON. */
function wishesKey(wishes: PackingWishes): string {
  const { preset, dimensions, added, apart, limits } = wishes
  return preset === null && !dimensions && !apart?.length && !limits ? `${added}` : JSON.stringify(wishes)
}

/** How items are packed; nothing is remembered. */
export function packedWays(
  items: readonly Goods[],
  presets: readonly PackagePreset[],
  wishes: PackingWishes,
  smaller: boolean,
): PackedWays {
  const packed = pack(items, presets, wishes)
  return {
    packed,
    others: packed.ok && smaller ? packSmaller(items, presets, wishes, packed.parcels) : [],
  }
}
