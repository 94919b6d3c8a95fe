import type { Day } from '@/core/calendar'
import { type Case, type Stage, stages } from '@/core/rulebook/language'
import { type Classifier, type Row, type ReadyRule, type StageProgram } from '@/core/rulebook/compile'
import { bitKeys, longer } from './bitKeys'
import { bitsOf, firstBits, toFirst, wordsWith } from './masks'
import { orderBases } from './orderBases'
import type { OrderBlock, OrderMemory } from './orderBlocks'
import { type Carried, type Claim, outcomesOf, type Said, type StageOutcomes } from './stageOutcomes'

/**
 * One stage of a program, made ready for many orders. Orders are many, outcomes are few: each is worked out once, and
 * has a number.
 */
export interface StageMatcher extends Omit<StageOutcomes, 'add'> {
  /** Reads what this stage asks of the orders of a block; before the block's first order. */
  readonly open: (block: OrderBlock) => void
  /**
   * The number of the outcome for an order of the block that is open; `triaged` is what Triage said, in later stages.
   */
  readonly match: (order: number, c: Case, today: Day, carried: Carried, triaged: Said | null) => number
  /** How many orders came to an outcome. */
  readonly ordersOf: (outcome: number) => number
}

/** Makes one stage of a program ready for many orders; `carry` gives what is left to later stages its number. */
export function stageMatcher(
  stage: Stage,
  { rules, ruleAt, words, classifiers }: StageProgram,
  memory: OrderMemory,
  carry: (claims: readonly Claim[], counted: ReadonlySet<string>) => Carried,
): StageMatcher {
  const place = stages.indexOf(stage)
  // The clock is that of the location, which Origin settles: after it, times are asked of each order.
  const early = place <= stages.indexOf('origin')
  const ofItems = classifiers.filter(({ reach }) => reach === 'items')
  const inColumns = classifiers.filter(({ reach }) => reach === 'order' || (reach === 'clock' && early))
  // In Triage itself no tag is settled yet.
  const ofTags = place === 0 ? undefined : classifiers.find(({ key }) => key === 'fact tags')
  const perOrder = classifiers.filter(
    (classifier) => classifier !== ofTags && !ofItems.includes(classifier) && !inColumns.includes(classifier),
  )
  const bits = bitsOf(rules, ruleAt, words)
  const { all, dated, withRest } = bits
  const activeOn = new Map<Day, Int32Array>()
  /** The words in which more than the order itself has a say: earlier stages, the day, what is no bit. */
  const late = Int32Array.from(
    new Set([
      ...wordsWith(dated),
      ...wordsWith(withRest),
      ...(ofTags?.says ?? []),
      ...perOrder.flatMap(({ says }) => [...says]),
    ]),
  ).sort()
  const firsts = firstBits(bits, late)
  const bases = orderBases({ ...{ ofItems, inColumns, all, words, late }, first: firsts.early }, memory)
  /** Outcomes by base, late words, and what was carried to them. */
  const outcomeKeys = bitKeys(late.length + 2)
  const key = new Int32Array(late.length + 2)
  const placeOf = new Int32Array(words)
  late.forEach((word, i) => {
    placeOf[word] = i + 1
  })
  const placesOf = (says: Int32Array): Int32Array => says.map((word) => placeOf[word]!)
  const perOrderInto = perOrder.map(({ says }) => placesOf(says))
  const datedSays = wordsWith(dated)
  const datedInto = placesOf(datedSays)
  const tagWords = ofTags && wordsOfTags(ofTags, placesOf(ofTags.says))
  const came = outcomesOf(stage, memory, carry)
  let orders = new Int32Array(64)

  return {
    open: bases.open,
    match,
    said: came.said,
    after: came.after,
    outcomes: came.outcomes,
    ordersOf: (outcome) => orders[outcome]!,
  }

  function match(order: number, c: Case, today: Day, carried: Carried, triaged: Said | null): number {
    const base = bases.take(order, key)
    if (dated) narrow(active(dated, today), datedSays, datedInto)
    if (tagWords) tagWords(triaged!.number, c.tags, key)
    for (let s = 0; s < perOrder.length; s++) narrow(perOrder[s]!.row(c), perOrder[s]!.says, perOrderInto[s]!)
    if (firsts.late) toFirst(key, firsts.late)
    if (withRest) askRest(withRest, c)
    key[late.length + 1] = carried.id
    const known = outcomeKeys.find(key)
    const outcome = known >= 0 ? known : newOutcome(base, carried)
    orders[outcome]!++
    return outcome
  }

  function narrow(row: Row, says: Int32Array, into: Int32Array): void {
    for (let s = 0; s < says.length; s++) key[into[s]!]! &= row[says[s]!]!
  }

  function active(dated: Int32Array, today: Day): Int32Array {
    let found = activeOn.get(today)
    if (!found) {
      found = dated.map((word) => ~word)
      ruleAt.forEach((rule, bit) => {
        if (today >= rules[rule]!.from && today <= rules[rule]!.until) found![bit >>> 5]! |= 1 << (bit & 31)
      })
      activeOn.set(today, found)
    }
    return found
  }

  function askRest(withRest: Int32Array, c: Case): void {
    for (const word of late) {
      let bits = key[placeOf[word]!]! & withRest[word]!
      while (bits !== 0) {
        const low = bits & -bits
        bits ^= low
        if (!rules[ruleAt[(word << 5) + 31 - Math.clz32(low)]!]!.rest!(c)) key[placeOf[word]!]! ^= low
      }
    }
  }

  function newOutcome(base: number, before: Carried): number {
    const matched = new Set<ReadyRule>()
    for (let bit = 0; bit < ruleAt.length; bit++) {
      const word = bit >>> 5
      if (((placeOf[word] === 0 ? bases.wordOf(base, word) : key[placeOf[word]!]!) & (1 << (bit & 31))) === 0) continue
      const rule = rules[ruleAt[bit]!]!
      matched.add(rule)
      if (rule.rule.finishStage) break
    }
    came.add([...matched], before)
    if (orders.length < came.outcomes.length) orders = longer(orders, 2 * came.outcomes.length)
    return outcomeKeys.add(key)
  }
}

/** What tags say of the late words, worked out once for each thing that Triage says and ANDed into a key. */
function wordsOfTags(
  { rowFor, says }: Classifier,
  into: Int32Array,
): (said: number, tags: readonly string[], key: Int32Array) => void {
  const width = says.length
  let words = new Int32Array(64 * width)
  let known = new Uint8Array(64)
  return (said, tags, key) => {
    if (said >= known.length) {
      words = longer(words, 2 * said * width)
      const more = new Uint8Array(2 * said)
      more.set(known)
      known = more
    }
    if (known[said] === 0) {
      known[said] = 1
      const row = rowFor(tags)
      for (let s = 0; s < width; s++) words[said * width + s] = row[says[s]!]!
    }
    for (let s = 0; s < width; s++) key[into[s]!]! &= words[said * width + s]!
  }
}
