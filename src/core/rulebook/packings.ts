import { itemKey, type Item } from '@/core/order'
import { pack, packSmaller, type PackagePreset, type Packed, type PackingWishes, type Parcel } from '@/core/packing'
import type { Split } from './decisionKinds'

/** How items are packed, and the other ways to do it that are weighed by their price. */
export interface PackedWays {
  readonly packed: Packed
  readonly others: readonly (readonly Parcel[])[]
}

/** Packs items as `pack` does; what was asked before is not worked out again. */
export type PackingMemory = (items: readonly Item[], wishes: PackingWishes, split: Split) => PackedWays

/**
 * The same baskets come again and again: most orders are one or two of what sells best. At most twice
 * `mostYoung` are kept: those asked for since the last clearing, and those of the time before it.
 */
export function packingMemory(presets: readonly PackagePreset[], mostYoung = 3_000): PackingMemory {
  let young = new Map<string, PackedWays>()
  let old = young
  return (items, wishes, split) => {
    let key = `${split} ${JSON.stringify(wishes)}`
    for (const item of items) key += `\n${itemKey(item)}`
    const known = young.get(key)
    if (known) return known
    const ways = old.get(key) ?? packedWays(items, presets, wishes, split)
    if (young.size >= mostYoung) {
      old = young
      young = new Map()
    }
    young.set(key, ways)
    return ways
  }
}

function packedWays(
  items: readonly Item[],
  presets: readonly PackagePreset[],
  wishes: PackingWishes,
  split: Split,
): PackedWays {
  const packed = pack(items, presets, wishes)
  return {
    packed,
    others: packed.ok && split === 'when cheaper' ? packSmaller(items, presets, wishes, packed.parcels) : [],
  }
}
