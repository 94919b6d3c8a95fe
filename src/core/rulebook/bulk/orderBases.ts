import type { Classifier } from '@/core/rulebook/compile'
import { rowsOfBaskets } from './basketRows'
import { bitKeys, longer } from './bitKeys'
import { rowsOfColumns } from './columnRows'
import { narrowBy, toFirst } from './masks'
import type { OrderBlock, OrderMemory } from './orderBlocks'

/** What holds of the rules of a stage as far as the orders themselves say: a number, the base, for each set of rules. */
export interface OrderBases {
  /** Reads what the stage asks of the orders of a block; before the block's first order. */
  readonly open: (block: OrderBlock) => void
  /** Writes the base of an order of the open block and its late words into a key; gives the base. */
  readonly take: (order: number, key: Int32Array) => number
  /** A word of a base. */
  readonly wordOf: (base: number, word: number) => number
}

interface Asked {
  /** What asks about items, and what is read in columns. */
  readonly ofItems: readonly Classifier[]
  readonly inColumns: readonly Classifier[]
  /** The row in which every rule holds, of so many words. */
  readonly all: Int32Array
  readonly words: number
  /** The words in which more than the order itself has a say. */
  readonly late: Int32Array
  /** What leaves of several bits the first one, where that can be done early. */
  readonly first: Parameters<typeof toFirst>[1] | null
}

/** So many orders at a time: their masks stay at hand. */
const portion = 512

/** The bases of one stage, for block after block. */
export function orderBases({ ofItems, inColumns, all, words, late, first }: Asked, memory: OrderMemory): OrderBases {
  const masksSeen = bitKeys(words)
  const baseOfMask: number[] = []
  const bases = bitKeys(words)
  /** The late words of each base. */
  let lateOf = new Int32Array(0)
  let baseOf = new Int32Array(0)
  const masks = new Int32Array(portion * words)
  const basketRows = rowsOfBaskets(ofItems, all, memory)

  return { open, take, wordOf: bases.wordOf }

  function take(order: number, key: Int32Array): number {
    const base = baseOf[order]!
    key[0] = base
    for (let i = 0, at = base * late.length; i < late.length; i++) key[i + 1] = lateOf[at++]!
    return base
  }

  // Orders are narrowed down stage by stage, so that the rows of one stage stay at hand meanwhile.
  function open(block: OrderBlock): void {
    const count = block.cases.length
    const sources = [...rowsOfColumns(block, inColumns, all), ...(ofItems.length > 0 ? [basketRows(block)] : [])]
    if (baseOf.length < count) baseOf = new Int32Array(count)
    // By threes, as narrowBy takes them.
    while (sources.length % 3 !== 0)
      sources.push({ rows: all, codes: new Uint32Array(count), startOf: Int32Array.of(0) })
    for (let from = 0; from < count; from += portion) {
      const until = Math.min(count, from + portion)
      masks.fill(-1)
      for (let s = 0; s < sources.length; s += 3)
        narrowBy(sources[s]!, sources[s + 1]!, sources[s + 2]!, from, until, words, masks)
      for (let i = from, at = 0; i < until; i++, at += words) {
        const seen = masksSeen.find(masks, at)
        baseOf[i] = seen >= 0 ? baseOfMask[seen]! : newMask(at)
      }
    }
  }

  function newMask(at: number): number {
    const base = baseFor(masks.slice(at, at + words))
    masksSeen.add(masks, at)
    baseOfMask.push(base)
    return base
  }

  function baseFor(mask: Int32Array): number {
    if (first) toFirst(mask, first)
    const known = bases.find(mask)
    if (known >= 0) return known
    const base = bases.add(mask)
    if (lateOf.length < (base + 1) * late.length) lateOf = longer(lateOf, 2 * (base + 1) * late.length)
    late.forEach((word, i) => {
      lateOf[base * late.length + i] = mask[word]!
    })
    return base
  }
}
