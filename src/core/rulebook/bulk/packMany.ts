import { grams, type Grams } from '@/core/units'
import { sumParcels } from '@/core/packing'
import type { Case, Decisions } from '@/core/rulebook/language'
import { cheapestPacking } from '@/core/rulebook/decide'
import type { OrderBlock, OrderMemory, PackedFor } from './orderBlocks'
import type { Said } from './stageOutcomes'

/**
 * Packs one order of a block as Packing says, with grams of a correction, unless it was packed so before; false when it
 * cannot be packed.
 */
export type ManyPacker = (
  c: Case,
  said: Said,
  preset: string | null,
  correction: number,
  block: OrderBlock,
  order: number,
) => boolean

/** Packs orders one after another; equal baskets with equal wishes are packed once. */
export function manyPacker(memory: OrderMemory): ManyPacker {
  return (c, said, preset, correction, block, order) => {
    const { settled, values } = said
    const wishes = (said.wishes ??= memory.same([
      JSON.stringify([settled.dimensions, settled.apart, settled.parcelLimits, values.split]),
    ])[0]!)
    const added = grams(correction + (said.inserts ??= values.inserts.reduce((sum, { weight }) => sum + weight, 0)))
    let packed = block.packed[order]
    if (
      packed?.wishes !== wishes ||
      packed.preset !== preset ||
      packed.added !== added ||
      (packed.leaves !== null && packed.leaves !== c.leaves)
    )
      packed = block.packed[order] = packedFor(c, values, wishes, preset, added, block.baskets[order]!)
    c.parcels = packed.parcels
    c.packed = packed.sums
    return packed.sums !== null
  }

  function packedFor(
    c: Case,
    { dimensions, apart, parcelLimits, split }: Decisions,
    wishes: string,
    preset: string | null,
    added: Grams,
    basket: number,
  ): PackedFor {
    const { ways, only } = memory.pack(
      basket,
      c.order.items,
      { preset, dimensions, apart, limits: parcelLimits, added },
      split,
      wishes,
    )
    if (only) return only
    const { parcels } = cheapestPacking(c, memory.ready, ways)
    return { wishes, preset, added, leaves: c.leaves, parcels, sums: sumParcels(parcels) }
  }
}
