import type { Day } from '@/core/calendar'
import type { Case } from '../case'
import { decisionKinds, type DecisionId } from '../catalogue'
import type { Row } from '../classify'
import { joined, narrowed, summed } from '../combine'
import type { ReadyRule, StageProgram } from '../compile'
import { defaults, type Decisions } from '../decisions'
import { stages, type Stage } from '../rulebook'
import { byBits } from './byBits'
import { rowsOfColumns, type Rows } from './columnRows'
import { firstZone } from '../world'
import type { OrderBlock, OrderMemory } from './orders'

/** A wish of a rule for a decision of a later stage. */
interface Claim {
  readonly decision: DecisionId
  readonly value: unknown
  readonly rule: string
}

/** What earlier stages left to a later one; `counted` names the rules among them that have decided something already. */
export interface Carried {
  readonly id: number
  readonly claims: readonly Claim[]
  readonly counted: ReadonlySet<string>
}

/** What rules of a stage say of an order. Different rules often say the same: equal ones are one object. */
export interface Said {
  readonly number: number
  /** Values that rules settled; without an entry nobody said anything. */
  readonly settled: Readonly<Partial<Record<DecisionId, unknown>>>
  /** The same for all decisions of the stage, with the defaults. */
  readonly values: Decisions
  /** Room for what the deciding works out of it once. */
  readonly kept: { wishes?: string; open?: Uint8Array }
  /** Of Triage: the rows of its tags in later stages, by stage. */
  readonly tagRows: (Row | undefined)[]
}

/**
 * What the same rules of a stage, matching together, come to. Orders are many, such outcomes are few: each is worked out
 * once and counts its orders.
 */
export interface Outcome {
  readonly said: Said
  readonly after: Carried
  readonly matched: readonly string[]
  readonly finishedBy: string | undefined
  /** Rules that decide something here, and did not before. */
  readonly deciding: readonly string[]
  orders: number
}

/** One stage of a program, made ready for many orders. */
export interface StageMatcher {
  /** Reads what this stage asks of the orders of a block; before the block's first order. */
  readonly open: (block: OrderBlock) => void
  /** The outcome for an order of the block that is open; `triaged` is what Triage said, in later stages. */
  readonly match: (order: number, c: Case, today: Day, carried: Carried, triaged: Said | null) => Outcome
  readonly outcomes: () => Iterable<Outcome>
}

export const nothingCarried: Carried = { id: 0, claims: [], counted: new Set() }

export function stageMatcher(stage: Stage, { rules, ruleAt, words, classifiers }: StageProgram, memory: OrderMemory, carry: (claims: readonly Claim[], counted: ReadonlySet<string>) => Carried): StageMatcher {
  const place = stages.indexOf(stage)
  // The clock is that of the location, which Origin settles: after it, times are asked of each order.
  const early = place <= stages.indexOf('origin')
  const ofItems = classifiers.filter(({ reach }) => reach === 'items')
  const inColumns = classifiers.filter(({ reach }) => reach === 'order' || (reach === 'clock' && early))
  // In Triage itself no tag is settled yet.
  const ofTags = place === 0 ? undefined : classifiers.find(({ key }) => key === 'fact tags')
  const perOrder = classifiers.filter((classifier) => classifier !== ofTags && !ofItems.includes(classifier) && !inColumns.includes(classifier))
  const { all, firstOf, later, withRest } = special(rules, ruleAt, words)
  const dated = rules.some(({ from, until }) => from !== -Infinity || until !== Infinity)
  const activeOn = new Map<Day, Int32Array>()
  /** All that a stage asks of the items, one row after another by basket. */
  let basketRows = new Int32Array(0)
  let basketsKnown = new Uint8Array(0)
  /** For each order of the open block, the bits that hold as far as the orders themselves say. */
  let masks = new Int32Array(0)
  /** The bits that hold for the order at hand, and behind them what was carried to it. */
  const mask = new Int32Array(words + 1)
  const everyWord = all.map((_, word) => word)
  const outcomes = byBits<Outcome>(words + 1)
  const sayings = new Map<string, Said>()
  const answers = ofItems.map(({ key }) => memory.answers(key))
  const kinds = decisionKinds.filter((kind) => kind.stage === stage)

  return { open, match, outcomes: () => outcomes.all }

  function open(block: OrderBlock): void {
    const count = block.cases.length
    if (masks.length < count * words) masks = new Int32Array(count * words)
    const zone = firstZone(memory.ready.world)
    const [first, ...others] = [...rowsOfColumns(block, inColumns, all, zone), ...(ofItems.length > 0 ? [rowsOfBaskets(block)] : [])]
    if (first) copyRows(first, count, words, masks)
    else for (let at = 0; at < count * words; at += words) masks.set(all, at)
    for (const rows of others) narrowBy(rows, count, words, masks)
  }

  function match(order: number, c: Case, today: Day, carried: Carried, triaged: Said | null): Outcome {
    for (let word = 0, at = order * words; word < words; word++) mask[word] = masks[at++]!
    if (dated) take(active(today), everyWord)
    if (ofTags) take((triaged!.tagRows[place] ??= ofTags.rowFor(c.tags)), ofTags.says)
    for (let s = 0; s < perOrder.length; s++) take(perOrder[s]!.row(c), perOrder[s]!.says)
    if (later) toFirst(later, firstOf)
    if (withRest) askRest(withRest, c)
    mask[words] = carried.id
    const outcome = outcomes.find(mask) ?? outcomes.add(mask, makeOutcome(carried))
    outcome.orders++
    return outcome
  }

  function take(row: Row, says: Int32Array): void {
    for (let s = 0; s < says.length; s++) mask[says[s]!]! &= row[says[s]!]!
  }

  function rowsOfBaskets({ cases, baskets }: OrderBlock): Rows {
    const most = memory.basketCount()
    if (basketsKnown.length < most) {
      basketsKnown = grown(basketsKnown, new Uint8Array(most * 2))
      basketRows = grown(basketRows, new Int32Array(most * 2 * words))
    }
    for (let i = 0; i < cases.length; i++) {
      const basket = baskets[i]!
      if (basketsKnown[basket] === 1) continue
      basketsKnown[basket] = 1
      const row = basketRows.subarray(basket * words, (basket + 1) * words)
      row.set(all)
      for (let s = 0; s < ofItems.length; s++) {
        const { read, rowFor, says } = ofItems[s]!
        // Null stands for "asked, and missing".
        const own = rowFor((answers[s]![basket] ??= read(cases[i]!) ?? null) ?? undefined)
        for (const word of says) row[word]! &= own[word]!
      }
    }
    return { rows: basketRows, codes: baskets, startOf: null }
  }

  function active(today: Day): Int32Array {
    let found = activeOn.get(today)
    if (!found) {
      found = new Int32Array(words)
      ruleAt.forEach((rule, bit) => { if (today >= rules[rule]!.from && today <= rules[rule]!.until) found![bit >>> 5]! |= 1 << (bit & 31) })
      activeOn.set(today, found)
    }
    return found
  }

  /** A rule that holds in several ways keeps one bit, its first: so equal rules are equal masks. */
  function toFirst(later: Int32Array, firstOf: Int32Array): void {
    for (let word = 0; word < words; word++) {
      let bits = mask[word]! & later[word]!
      mask[word]! ^= bits
      while (bits !== 0) {
        const low = bits & -bits
        bits ^= low
        const first = firstOf[(word << 5) + 31 - Math.clz32(low)]!
        mask[first >>> 5]! |= 1 << (first & 31)
      }
    }
  }

  function askRest(withRest: Int32Array, c: Case): void {
    for (let word = 0; word < words; word++) {
      let bits = mask[word]! & withRest[word]!
      while (bits !== 0) {
        const low = bits & -bits
        bits ^= low
        if (!rules[ruleAt[(word << 5) + 31 - Math.clz32(low)]!]!.rest!(c)) mask[word]! ^= low
      }
    }
  }

  function makeOutcome(before: Carried): Outcome {
    const matched: ReadyRule[] = []
    for (let bit = 0; bit < ruleAt.length; bit++) {
      if ((mask[bit >>> 5]! & (1 << (bit & 31))) === 0) continue
      const rule = rules[ruleAt[bit]!]!
      matched.push(rule)
      if (rule.rule.finishStage) break
    }
    const claims: readonly Claim[] = [...before.claims, ...matched.flatMap(({ rule, actions }) => actions.map(({ decision, value }) => ({ decision, value, rule: rule.id })))]
    const settled: Partial<Record<DecisionId, unknown>> = {}
    const decided = new Set<string>()
    for (const { id, combine } of kinds) {
      const own = claims.filter((claim) => claim.decision === id)
      if (own.length === 0) continue
      const values = own.map((claim) => claim.value)
      settled[id] = memory.same(combine === 'one' ? values[0] : combine === 'sum' ? summed(values) : combine === 'set' ? joined(values) : narrowed(values))
      for (const { rule } of combine === 'one' ? own.slice(0, 1) : own) decided.add(rule)
    }
    const last = matched[matched.length - 1]
    const later = claims.filter(({ decision }) => kinds.every(({ id }) => id !== decision))
    return {
      said: saidBy(settled), matched: matched.map(({ rule }) => rule.id), finishedBy: last?.rule.finishStage ? last.rule.id : undefined, orders: 0,
      deciding: [...decided].filter((rule) => !before.counted.has(rule)),
      after: carry(later, new Set([...before.counted, ...decided].filter((rule) => later.some((claim) => claim.rule === rule)))),
    }
  }

  function saidBy(settled: Said['settled']): Said {
    const key = JSON.stringify(settled)
    let said = sayings.get(key)
    if (!said) sayings.set(key, (said = { number: sayings.size, settled, values: { ...defaults, ...settled } as Decisions, kept: {}, tagRows: [] }))
    return said
  }
}

/** Bits that want a second look: see toFirst and askRest; null where there are none. `all` has every bit of the stage. */
function special(rules: readonly ReadyRule[], ruleAt: Int32Array, words: number): { all: Int32Array; firstOf: Int32Array; later: Int32Array | null; withRest: Int32Array | null } {
  const [all, later, withRest] = [new Int32Array(words), new Int32Array(words), new Int32Array(words)]
  const firstOf = new Int32Array(ruleAt.length)
  ruleAt.forEach((rule, bit) => {
    const own = 1 << (bit & 31)
    // The bits of a rule stand next to each other.
    firstOf[bit] = bit > 0 && ruleAt[bit - 1] === rule ? firstOf[bit - 1]! : bit
    all[bit >>> 5]! |= own
    if (firstOf[bit] !== bit) later[bit >>> 5]! |= own
    if (rules[rule]!.rest) withRest[bit >>> 5]! |= own
  })
  const any = (bits: Int32Array): Int32Array | null => (bits.some((word) => word !== 0) ? bits : null)
  return { all, firstOf, later: any(later), withRest: any(withRest) }
}

// Written out for each case: this is where the rules are matched, for all orders.
function copyRows({ rows, codes, startOf }: Rows, count: number, words: number, into: Int32Array): void {
  for (let i = 0, at = 0; i < count; i++) for (let word = 0, from = startOf ? startOf[codes[i]!]! : codes[i]! * words; word < words; word++) into[at++] = rows[from++]!
}

function narrowBy({ rows, codes, startOf }: Rows, count: number, words: number, into: Int32Array): void {
  for (let i = 0, at = 0; i < count; i++) for (let word = 0, from = startOf ? startOf[codes[i]!]! : codes[i]! * words; word < words; word++) into[at++]! &= rows[from++]!
}

function grown<T extends Int32Array | Uint8Array>(old: T, larger: T): T {
  larger.set(old)
  return larger
}
