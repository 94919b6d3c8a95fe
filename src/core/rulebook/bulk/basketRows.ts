import type { Case } from '@/core/rulebook/language'
import type { Classifier, Row } from '@/core/rulebook/compile'
import { bitKeys, longer } from './bitKeys'
import type { Rows } from './columnRows'
import type { OrderBlock, OrderMemory } from './orderBlocks'

/**
 * What items say of the rules of a stage: asked once for each basket, and each different row kept once. `all` has the
 * bits of all rules.
 */
export function rowsOfBaskets(
  ofItems: readonly Classifier[],
  all: Row,
  memory: OrderMemory,
): (block: OrderBlock) => Rows {
  const words = all.length
  const answers = ofItems.map(({ key }) => memory.answers(key))
  const different = bitKeys(words)
  let rows = new Int32Array(0)
  /** Where the row of a basket begins; −1 where it was not asked yet. */
  let startOf = new Int32Array(0)
  return ({ cases, baskets }) => {
    const known = startOf.length
    if (known < memory.basketCount()) {
      startOf = longer(startOf, 2 * memory.basketCount())
      startOf.fill(-1, known)
    }
    for (let i = 0; i < cases.length; i++)
      if (startOf[baskets[i]!] === -1) startOf[baskets[i]!] = startFor(rowFor(cases[i]!, baskets[i]!))
    return { rows, codes: baskets, startOf }
  }

  function rowFor(c: Case, basket: number): Int32Array {
    const row = all.slice()
    ofItems.forEach(({ read, rowFor, says }, s) => {
      // Null stands for "asked, and missing".
      const own = rowFor((answers[s]![basket] ??= read(c) ?? null) ?? undefined)
      for (const word of says) row[word]! &= own[word]!
    })
    return row
  }

  function startFor(row: Int32Array): number {
    const known = different.find(row)
    if (known >= 0) return known * words
    const start = different.add(row) * words
    if (rows.length < start + words) rows = longer(rows, 2 * (start + words))
    rows.set(row, start)
    return start
  }
}
