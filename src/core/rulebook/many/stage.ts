import type { Day } from '@/core/calendar'
import type { Case } from '../case'
import { decisionKinds, type DecisionId, type FactValue } from '../catalogue'
import type { Classifier, Row } from '../classify'
import { joined, narrowed, summed } from '../combine'
import type { ReadyRule, StageProgram } from '../compile'
import { defaults, type Decisions } from '../decisions'
import { codeColumn } from '../columns'
import { stages, type Stage } from '../rulebook'
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

/**
 * What the same rules of a stage, matching together, come to. Orders are many, such outcomes are few: each is worked out
 * once and counts its orders.
 */
export interface Outcome {
  readonly mask: Int32Array
  readonly before: Carried
  readonly after: Carried
  readonly matched: readonly string[]
  readonly finishedBy: string | undefined
  /** Rules that decide something here, and did not before. */
  readonly deciding: readonly string[]
  /** Values that rules settled; without an entry nobody said anything. */
  readonly settled: Readonly<Partial<Record<DecisionId, unknown>>>
  /** The same for all decisions of the stage, with the defaults. */
  readonly values: Decisions
  /** Room for what the deciding works out of it once. */
  readonly kept: { wishes?: string; open?: Uint8Array }
  orders: number
}

/** One stage of a program, made ready for many orders. */
export interface StageMatcher {
  /** Reads what this stage asks of the orders of a block; before the block's first order. */
  readonly open: (block: OrderBlock) => void
  /** The outcome for an order of the block that is open. */
  readonly match: (order: number, c: Case, today: Day, carried: Carried) => Outcome
  readonly outcomes: () => Iterable<Outcome>
}

const mostValues = 20_000

export const nothingCarried: Carried = { id: 0, claims: [], counted: new Set() }

export function stageMatcher(stage: Stage, { rules, words, classifiers }: StageProgram, memory: OrderMemory, carry: (claims: readonly Claim[], counted: ReadonlySet<string>) => Carried): StageMatcher {
  const mask = new Int32Array(words)
  // The clock is that of the location, which Origin settles: after it, times are asked of each order.
  const early = stages.indexOf(stage) <= stages.indexOf('origin')
  const ofItems = classifiers.filter(({ reach }) => reach === 'items')
  const inColumns = classifiers.filter(({ reach }) => reach === 'order' || (reach === 'clock' && early))
  const perOrder = classifiers.filter((classifier) => !ofItems.includes(classifier) && !inColumns.includes(classifier))
  const withRest = new Int32Array(words)
  rules.forEach(({ rest }, i) => { if (rest) withRest[i >>> 5]! |= 1 << (i & 31) })
  const anyRest = rules.some(({ rest }) => rest)
  const dated = rules.some(({ from, until }) => from !== -Infinity || until !== Infinity)
  const rowsNow = perOrder.map(() => new Map<FactValue, Row>())
  // The last word may have bits beyond the last rule.
  const all = Int32Array.from({ length: words }, (_, word) => (word === words - 1 && (rules.length & 31) !== 0 ? (1 << (rules.length & 31)) - 1 : -1))
  const activeOn = new Map<Day, Int32Array>()
  const outcomes = new Map<number, Outcome[]>()
  /** All that a stage asks of the items, one row after another by basket. */
  let basketRows = new Int32Array(0)
  let basketsKnown = new Uint8Array(0)
  let sources: readonly Rows[] = []
  const at = new Int32Array(ofItems.length + inColumns.length)
  const now: Row[] = []
  const kinds = decisionKinds.filter((kind) => kind.stage === stage)

  return { open, match, outcomes: function* () { for (const found of outcomes.values()) yield* found } }

  function open(block: OrderBlock): void {
    if (words === 0) return
    sources = [...(ofItems.length > 0 ? [rowsOfBaskets(block)] : []), ...inColumns.map((classifier) => rowsOfColumn(block, classifier, words))]
  }

  function match(order: number, c: Case, today: Day, carried: Carried): Outcome {
    const start = dated ? active(today) : all
    for (let s = 0; s < sources.length; s++) at[s] = sources[s]!.starts[order]!
    for (let s = 0; s < perOrder.length; s++) now[s] = rowNow(s, c)
    for (let word = 0; word < words; word++) {
      let bits = start[word]!
      for (let s = 0; s < now.length && bits !== 0; s++) bits &= now[s]![word]!
      for (let s = 0; s < sources.length && bits !== 0; s++) bits &= sources[s]!.rows[at[s]! + word]!
      mask[word] = bits
    }
    if (anyRest) askRest(c)
    return outcomeFor(carried)
  }

  function rowsOfBaskets({ cases, baskets }: OrderBlock): Rows {
    const most = memory.basketCount()
    if (basketsKnown.length < most) {
      basketsKnown = grown(basketsKnown, new Uint8Array(most * 2))
      basketRows = grown(basketRows, new Int32Array(most * 2 * words))
    }
    const starts = new Int32Array(cases.length)
    for (let i = 0; i < cases.length; i++) {
      const basket = baskets[i]!
      starts[i] = basket * words
      if (basketsKnown[basket] === 1) continue
      basketsKnown[basket] = 1
      const row = basketRows.subarray(basket * words, (basket + 1) * words).fill(-1)
      for (const classifier of ofItems) {
        const own = classifier.row(cases[i]!)
        for (let word = 0; word < words; word++) row[word]! &= own[word]!
      }
    }
    return { rows: basketRows, starts }
  }

  /** What earlier stages settled is mostly one of few values, and equal ones are one object. */
  function rowNow(s: number, c: Case): Row {
    const { read, rowFor } = perOrder[s]!
    const value = read(c)
    const known = rowsNow[s]!
    let row = known.get(value)
    if (!row) {
      if (known.size >= mostValues) known.clear()
      known.set(value, (row = rowFor(value)))
    }
    return row
  }

  function active(today: Day): Int32Array {
    let found = activeOn.get(today)
    if (!found) {
      found = new Int32Array(words)
      for (let i = 0; i < rules.length; i++) if (today >= rules[i]!.from && today <= rules[i]!.until) found[i >>> 5]! |= 1 << (i & 31)
      activeOn.set(today, found)
    }
    return found
  }

  function askRest(c: Case): void {
    for (let word = 0; word < words; word++) {
      let bits = mask[word]! & withRest[word]!
      while (bits !== 0) {
        const low = bits & -bits
        bits ^= low
        if (!rules[(word << 5) + 31 - Math.clz32(low)]!.rest!(c)) mask[word]! ^= low
      }
    }
  }

  function outcomeFor(carried: Carried): Outcome {
    let hash = carried.id
    for (let word = 0; word < words; word++) hash = (Math.imul(hash, 0x01000193) ^ mask[word]!) | 0
    let found = outcomes.get(hash)
    if (!found) outcomes.set(hash, (found = []))
    search: for (let i = 0; i < found.length; i++) {
      const outcome = found[i]!
      if (outcome.before !== carried) continue
      for (let word = 0; word < words; word++) if (outcome.mask[word] !== mask[word]) continue search
      return outcome
    }
    const made = makeOutcome(carried)
    found.push(made)
    return made
  }

  function makeOutcome(before: Carried): Outcome {
    const matched: ReadyRule[] = []
    for (let i = 0; i < rules.length; i++) {
      if ((mask[i >>> 5]! & (1 << (i & 31))) === 0) continue
      matched.push(rules[i]!)
      if (rules[i]!.rule.finishStage) break
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
      mask: mask.slice(), before, matched: matched.map(({ rule }) => rule.id), finishedBy: last?.rule.finishStage ? last.rule.id : undefined, settled, values: { ...defaults, ...settled } as Decisions, kept: {}, orders: 0,
      deciding: [...decided].filter((rule) => !before.counted.has(rule)),
      after: carry(later, new Set([...before.counted, ...decided].filter((rule) => later.some((claim) => claim.rule === rule)))),
    }
  }
}

/** Rows one after another, and where the row of each order of the block begins. */
interface Rows {
  readonly rows: Int32Array
  readonly starts: Int32Array
}

/** A classifier's rows for the values of a fact, read from the orders of the block once for all rulebooks; each different row once, so that they stay at hand. */
function rowsOfColumn(block: OrderBlock, { key, read, rowFor }: Classifier, words: number): Rows {
  let column = block.columns.get(key)
  if (!column) block.columns.set(key, (column = codeColumn(block.cases.length, (i): FactValue => read(block.cases[i]!))))
  const { codes, values } = column
  const places = new Map<Row, number>()
  const startOf = new Int32Array(values.length)
  values.forEach((value, code) => {
    const row = rowFor(value)
    const place = places.get(row) ?? places.size
    places.set(row, place)
    startOf[code] = place * words
  })
  const rows = new Int32Array(places.size * words)
  for (const [row, place] of places) rows.set(row, place * words)
  const starts = new Int32Array(codes.length)
  for (let i = 0; i < codes.length; i++) starts[i] = startOf[codes[i]!]!
  return { rows, starts }
}

function grown<T extends Int32Array | Uint8Array>(old: T, larger: T): T {
  larger.set(old)
  return larger
}
