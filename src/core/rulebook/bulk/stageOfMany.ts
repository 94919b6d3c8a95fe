import type { Day } from '@/core/calendar'
import {
  type Case,
  combined,
  type DecisionId,
  decisionsOf,
  type Decisions,
  defaults,
  type Stage,
  stages,
} from '@/core/rulebook/language'
import { type Classifier, type Row, type ReadyRule, type StageProgram } from '@/core/rulebook/compile'
import { bitKeys, longer } from './bitKeys'
import { rowsOfBaskets } from './basketRows'
import { rowsOfColumns } from './columnRows'
import { bitsOf, firstBits, narrowBy, toFirst, wordsWith } from './masks'
import type { OrderBlock, OrderMemory, Terms } from './orderBlocks'

/** A wish of a rule for a decision of a later stage. */
interface Claim {
  readonly decision: DecisionId
  readonly value: unknown
  readonly rule: string
}

/**
 * What earlier stages left to a later one; `counted` names the rules among them that have decided something already.
 */
export interface Carried {
  readonly id: number
  readonly claims: readonly Claim[]
  readonly counted: ReadonlySet<string>
}

/** What follows from what a stage says, whatever the order: worked out by the deciding when it is asked first. */
interface Kept {
  /** Packing: everything asked for but the preset, as text, and grams of the inserts. */
  wishes: string | undefined
  inserts: number | undefined
  /** Origin: the number of the location that is named; −1 when there is none. */
  from: number | undefined
  /** Protection: what is asked of services, by what else it hangs on. */
  readonly terms: (Terms | undefined)[]
  /** Service: 1 for services that no rule bars, and the most that may be spent; null without an exchange rate. */
  open: Uint8Array | undefined
  most: number | null | undefined
  /** Papers: it asks for a slip or document that does not exist. */
  lacking: boolean | undefined
}

/** What rules of a stage say of an order. Different rules often say the same: equal ones are one object. */
export interface Said extends Kept {
  readonly number: number
  /** Values that rules settled; without an entry nobody said anything. */
  readonly settled: Readonly<Partial<Record<DecisionId, unknown>>>
  /** The same for all decisions of the stage, with the defaults. */
  readonly values: Decisions
  /** Packing: own dimensions are wanted by a rule above the one that names a preset. */
  readonly ownSize: boolean
}

/** What the same rules of a stage, matching together, come to, for the flow. */
export interface Outcome {
  readonly matched: readonly string[]
  readonly finishedBy: string | undefined
  /** Rules that decide something here, and did not before. */
  readonly deciding: readonly string[]
}

/**
 * One stage of a program, made ready for many orders. Orders are many, outcomes are few: each is worked out once, and
 * has a number.
 */
export interface StageMatcher {
  /** Reads what this stage asks of the orders of a block; before the block's first order. */
  readonly open: (block: OrderBlock) => void
  /**
   * The number of the outcome for an order of the block that is open; `triaged` is what Triage said, in later stages.
   */
  readonly match: (order: number, c: Case, today: Day, carried: Carried, triaged: Said | null) => number
  /** By outcome: what is said, and what is left to later stages. */
  readonly said: readonly Said[]
  readonly after: readonly Carried[]
  readonly outcomes: readonly Outcome[]
  /** How many orders came to an outcome. */
  readonly ordersOf: (outcome: number) => number
}

/** So many orders at a time: their masks stay at hand. */
const portion = 512

export const nothingCarried: Carried = { id: 0, claims: [], counted: new Set() }

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
  /**
   * What holds as far as the orders themselves say: a number for each set of rules, and the set of each order of the
   * open block.
   */
  const masksSeen = bitKeys(words)
  const baseOfMask: number[] = []
  const bases = bitKeys(words)
  /** The late words of each base. */
  let lateOf = new Int32Array(0)
  let baseOf = new Int32Array(0)
  const masks = new Int32Array(portion * words)
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
  const sayings = new Map<string, Said>()
  const basketRows = rowsOfBaskets(ofItems, all, memory)
  const kinds = decisionsOf[stage]

  const [saids, afters, outcomes]: [Said[], Carried[], Outcome[]] = [[], [], []]
  let orders = new Int32Array(64)

  return { open, match, said: saids, after: afters, outcomes, ordersOf: (outcome) => orders[outcome]! }

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
    if (firsts.early) toFirst(mask, firsts.early)
    const known = bases.find(mask)
    if (known >= 0) return known
    const base = bases.add(mask)
    if (lateOf.length < (base + 1) * late.length) lateOf = longer(lateOf, 2 * (base + 1) * late.length)
    late.forEach((word, i) => {
      lateOf[base * late.length + i] = mask[word]!
    })
    return base
  }

  function match(order: number, c: Case, today: Day, carried: Carried, triaged: Said | null): number {
    const base = baseOf[order]!
    key[0] = base
    for (let i = 0, at = base * late.length; i < late.length; i++) key[i + 1] = lateOf[at++]!
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
    const those = [...matched]
    const claims: readonly Claim[] = [
      ...before.claims,
      ...those.flatMap(({ rule, actions }) =>
        actions.map(({ decision, value }) => ({ decision, value, rule: rule.id })),
      ),
    ]
    const settled: Partial<Record<DecisionId, unknown>> = {}
    const decided = new Set<string>()
    for (const kind of kinds) {
      const own = claims.filter((claim) => claim.decision === kind.id)
      if (own.length === 0) continue
      const values = own.map((claim) => claim.value)
      settled[kind.id] = memory.same(combined(kind, values, memory.ready.servicesOf))
      for (const { rule } of kind.combine === 'one' ? own.slice(0, 1) : own) decided.add(rule)
    }
    const last = those[those.length - 1]
    const later = claims.filter(({ decision }) => kinds.every(({ id }) => id !== decision))
    const wish = (id: DecisionId): number => claims.findIndex(({ decision }) => decision === id)
    const [size, preset] = [wish('dimensions'), wish('preset')]
    saids.push(
      saidBy(settled, size >= 0 && (preset < 0 || (size < preset && claims[size]!.rule !== claims[preset]!.rule))),
    )
    afters.push(
      carry(
        later,
        new Set([...before.counted, ...decided].filter((rule) => later.some((claim) => claim.rule === rule))),
      ),
    )
    outcomes.push({
      matched: those.map(({ rule }) => rule.id),
      finishedBy: last?.rule.finishStage ? last.rule.id : undefined,
      deciding: [...decided].filter((rule) => !before.counted.has(rule)),
    })
    if (orders.length < outcomes.length) orders = longer(orders, 2 * outcomes.length)
    return outcomeKeys.add(key)
  }

  function saidBy(settled: Said['settled'], ownSize: boolean): Said {
    const key = JSON.stringify([settled, ownSize])
    let said = sayings.get(key)
    if (!said)
      sayings.set(
        key,
        (said = {
          number: sayings.size,
          settled,
          values: { ...defaults, ...settled } as Decisions,
          ownSize,
          wishes: undefined,
          inserts: undefined,
          from: undefined,
          terms: [],
          open: undefined,
          most: undefined,
          lacking: undefined,
        }),
      )
    return said
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
