import type { FactValue } from './catalogue'
import type { StageProgram } from './compile'
import type { Classifier, Row } from './classify'

/** One fact of many orders: a code for each order, and the value behind each code. */
export interface Column {
  readonly codes: Uint32Array
  readonly values: readonly FactValue[]
}

/** Codes the values of one fact; equal values share a code. Sets of tags are told apart by their text. */
export function codeColumn(count: number, valueAt: (order: number) => FactValue): Column {
  const codes = new Uint32Array(count)
  const values: FactValue[] = []
  const known = new Map<unknown, number>()
  for (let i = 0; i < count; i++) {
    const value = valueAt(i)
    const key = Array.isArray(value) ? `\u0000${value.join('\u0001')}` : value
    let code = known.get(key)
    if (code === undefined) {
      code = values.length
      values.push(value)
      known.set(key, code)
    }
    codes[i] = code
  }
  return { codes, values }
}

/**
 * For each of `count` orders the first rule of the stage that matches (its place in the stage), or -1. `column` gives
 * the column of a source by its key (`fact country`); a source without one counts as missing. Only for stages whose
 * rules rest on single facts: null when a rule mixes several in one part of its condition, or has dates.
 *
 * Rules that test the same source for the same classes are put next to each other, so that the row of a class is mostly
 * empty words. A summary of a row has a bit for each of its words that is not empty: the summaries of an order's classes,
 * ANDed, name the few words that are worth ANDing.
 */
export function firstMatches(stage: StageProgram, count: number, column: (key: string) => Column | undefined): Int32Array | null {
  if (stage.rules.some((rule) => rule.rest !== null || rule.from !== -Infinity || rule.until !== Infinity)) return null
  const winners = new Int32Array(count).fill(-1)
  if (stage.ruleAt.length === 0) return winners
  if (stage.classifiers.length === 0) return winners.fill(stage.ruleAt[0]!)
  const plan = planFor(stage, stage.classifiers.map((classifier) => column(classifier.key) ?? missingColumn(count)))
  const four = plan.sources.length <= 4
  if (four) matchFour(plan, winners)
  else matchMany(plan, winners)
  return winners
}

/** One source of a plan: the class of each order in the plan's sequence, and the rows of the classes one after another. */
interface PlanSource { readonly classes: Int32Array; readonly rows: Int32Array; readonly summaries: Int32Array }
interface Plan {
  readonly sources: readonly PlanSource[]
  readonly words: number
  readonly summaryWords: number
  /** The place in the stage of each rule of the plan. */
  readonly places: Int32Array
  /** In which sequence the orders are looked at: those of one class of the largest source together, so that its row is at hand. */
  readonly sequence: Int32Array
}

const missingColumn = (count: number): Column => ({ codes: new Uint32Array(count), values: [undefined] })
const plans = new WeakMap<StageProgram, { columns: readonly Column[]; plan: Plan }>()

/** The plan of a stage over columns, made once and kept while both stay the same. */
function planFor(stage: StageProgram, columns: readonly Column[]): Plan {
  const kept = plans.get(stage)
  if (kept && kept.columns.every((column, i) => column === columns[i] || (column.values.length === 1 && column.values[0] === undefined && columns[i]!.values.length === 1 && columns[i]!.values[0] === undefined))) return kept.plan
  const plan = makePlan(stage, columns)
  plans.set(stage, { columns, plan })
  return plan
}

interface Classed { readonly classes: Int32Array; readonly rows: readonly Row[]; readonly weights: Float64Array }

/** The classes of a column under a classifier, with how many orders each has. */
function classed({ codes, values }: Column, { rowFor }: Classifier): Classed {
  const places = new Map<Row, number>()
  const classOf = new Int32Array(values.length)
  // Numbers in their order: then rules that begin at nearby values come to stand together.
  const order = Array.from(values.keys()).sort((a, b) => (typeof values[a] === 'number' && typeof values[b] === 'number' ? values[a] - values[b] : a - b))
  for (const code of order) {
    const row = rowFor(values[code])
    const place = places.get(row) ?? places.size
    places.set(row, place)
    classOf[code] = place
  }
  const classes = new Int32Array(codes.length)
  const weights = new Float64Array(places.size)
  for (let i = 0; i < codes.length; i++) weights[(classes[i] = classOf[codes[i]!]!)]!++
  return { classes, rows: [...places.keys()], weights }
}

function makePlan({ ruleAt, words, classifiers }: StageProgram, columns: readonly Column[]): Plan {
  const sources = classifiers.map((classifier, i) => classed(columns[i]!, classifier))
  const sequenceOfBits = cluster(ruleAt.length, sources)
  const summaryWords = Math.ceil(words / 32)
  const largest = sources.reduce((a, b) => (b.rows.length > a.rows.length ? b : a))
  const sequence = Int32Array.from(largest.classes.keys()).sort((a, b) => largest.classes[a]! - largest.classes[b]!)
  return {
    words, summaryWords, sequence, places: sequenceOfBits.map((bit) => ruleAt[bit]!),
    sources: sources.map(({ classes, rows }) => {
      const packed = new Int32Array(rows.length * words)
      const summaries = new Int32Array(rows.length * summaryWords)
      rows.forEach((row, at) => {
        for (let i = 0; i < sequenceOfBits.length; i++) {
          const bit = sequenceOfBits[i]!
          if ((row[bit >>> 5]! & (1 << (bit & 31))) !== 0) packed[at * words + (i >>> 5)]! |= 1 << (i & 31)
        }
        for (let word = 0; word < words; word++) if (packed[at * words + word] !== 0) summaries[at * summaryWords + (word >>> 5)]! |= 1 << (word & 31)
      })
      return { classes: sequence.map((order) => classes[order]!), rows: packed, summaries }
    }),
  }
}

/**
 * An order of the rules in which those that the same orders can match stand together: by the source that lets the fewest
 * orders through to a rule, and by the first class that it lets through.
 */
function cluster(count: number, sources: readonly Classed[]): Int32Array {
  const orders = Math.max(1, sources[0]!.classes.length)
  const share = new Float64Array(count).fill(2)
  const by = new Int32Array(count)
  const first = new Int32Array(count)
  sources.forEach(({ rows, weights }, source) => {
    const passed = new Float64Array(count)
    const head = new Int32Array(count).fill(-1)
    rows.forEach((row, at) => {
      for (let rule = 0; rule < count; rule++) if ((row[rule >>> 5]! & (1 << (rule & 31))) !== 0) {
        passed[rule]! += weights[at]!
        if (head[rule] === -1) head[rule] = at
      }
    })
    for (let rule = 0; rule < count; rule++) {
      const own = passed[rule]! / orders
      if (own >= share[rule]!) continue
      share[rule] = own
      by[rule] = source
      first[rule] = head[rule]!
    }
  })
  return Int32Array.from(Array.from({ length: count }, (_, rule) => rule).sort((a, b) => by[a]! - by[b]! || first[a]! - first[b]! || a - b))
}

/** The place of the first rule among the bits of a word, if it stands before `best`. */
function firstPlace(bits: number, word: number, places: Int32Array, best: number): number {
  let left = bits
  let found = best
  while (left !== 0) {
    const low = left & -left
    left ^= low
    const place = places[(word << 5) + 31 - Math.clz32(low)]!
    if (place < found) found = place
  }
  return found
}

const none = 0x7fffffff

/** Up to four sources, the inner loops written out: this is where most of the time of a large trial goes. */
function matchFour({ sources, words, summaryWords, places, sequence }: Plan, winners: Int32Array): void {
  const all: PlanSource = { classes: new Int32Array(winners.length), rows: new Int32Array(words).fill(-1), summaries: new Int32Array(summaryWords).fill(-1) }
  const [a = all, b = all, c = all, d = all] = sources
  const [rowsA, rowsB, rowsC, rowsD] = [a.rows, b.rows, c.rows, d.rows]
  const [inA, inB, inC, inD] = [a.classes, b.classes, c.classes, d.classes]
  const [sumA, sumB, sumC, sumD] = [a.summaries, b.summaries, c.summaries, d.summaries]
  for (let i = 0; i < winners.length; i++) {
    const classA = inA[i]!
    const classB = inB[i]!
    const classC = inC[i]!
    const classD = inD[i]!
    let best = none
    for (let s = 0; s < summaryWords; s++) {
      let open = sumA[classA * summaryWords + s]! & sumB[classB * summaryWords + s]! & sumC[classC * summaryWords + s]! & sumD[classD * summaryWords + s]!
      while (open !== 0) {
        const low = open & -open
        open ^= low
        const word = (s << 5) + 31 - Math.clz32(low)
        const bits = rowsA[classA * words + word]! & rowsB[classB * words + word]! & rowsC[classC * words + word]! & rowsD[classD * words + word]!
        if (bits !== 0) best = firstPlace(bits, word, places, best)
      }
    }
    if (best !== none) winners[sequence[i]!] = best
  }
}

function matchMany({ sources, words, summaryWords, places, sequence }: Plan, winners: Int32Array): void {
  for (let i = 0; i < winners.length; i++) {
    let best = none
    for (let s = 0; s < summaryWords; s++) {
      let open = -1
      for (const { classes, summaries } of sources) open &= summaries[classes[i]! * summaryWords + s]!
      while (open !== 0) {
        const low = open & -open
        open ^= low
        const word = (s << 5) + 31 - Math.clz32(low)
        let bits = -1
        for (const { classes, rows } of sources) bits &= rows[classes[i]! * words + word]!
        if (bits !== 0) best = firstPlace(bits, word, places, best)
      }
    }
    if (best !== none) winners[sequence[i]!] = best
  }
}
