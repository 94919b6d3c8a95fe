import type { Classifier, Row } from './classify'
import { canJoin, join, jointOf, type Column } from './columns'
import type { StageProgram } from './compile'

/**
 * For each of `count` orders the first rule of the stage that matches (its place in the stage), or -1. `column` gives
 * the column of a source by its key (`fact country`); a source without one counts as missing. Only for stages whose
 * rules rest on single facts: null when a rule mixes several in too many ways, or has dates.
 *
 * Rules that the same orders can match are put next to each other, so that the row of a class is mostly empty words. A
 * summary of a row has a bit for each of its words that is not empty: the summaries of the two sources that let fewest
 * rules through, ANDed, name the few words that are worth ANDing; all other sources are asked only where those two
 * agree.
 */
export function firstMatches(
  stage: StageProgram,
  count: number,
  column: (key: string) => Column | undefined,
): Int32Array | null {
  if (stage.rules.some((rule) => rule.rest !== null || rule.from !== -Infinity || rule.until !== Infinity)) return null
  const winners = new Int32Array(count).fill(-1)
  if (stage.ruleAt.length === 0) return winners
  if (stage.classifiers.length === 0) return winners.fill(stage.ruleAt[0]!)
  match(
    planFor(
      stage,
      stage.classifiers.map((classifier) => column(classifier.key) ?? missingColumn(count)),
    ),
    winners,
  )
  return winners
}

/**
 * A portion of the bits of a source: 32 words of each class, one class after another, and a word for each class that
 * says which of them are not empty.
 */
interface Portion {
  readonly rows: Int32Array
  readonly summaries: Int32Array
}
/** One source of a plan: the class of each order in the plan's sequence, and its portions. */
interface PlanSource {
  readonly classes: Int32Array
  readonly portions: readonly Portion[]
}
interface Plan {
  /** The two that let fewest rules through. */
  readonly narrow: readonly [PlanSource, PlanSource]
  readonly others: readonly PlanSource[]
  /** The place in the stage of the rule that each bit of the plan stands for. */
  readonly places: Int32Array
  /**
   * In which sequence the orders are looked at: those of one class of the largest source together, so that its row is
   * at hand.
   */
  readonly sequence: Int32Array
}

const missingColumn = (count: number): Column => ({ codes: new Uint32Array(count), values: [undefined] })
const isMissing = ({ values }: Column): boolean => values.length === 1 && values[0] === undefined
const plans = new WeakMap<StageProgram, { columns: readonly Column[]; plan: Plan }>()

/** The plan of a stage over columns, made once and kept while both stay the same. */
function planFor(stage: StageProgram, columns: readonly Column[]): Plan {
  const kept = plans.get(stage)
  if (
    kept?.columns.every(
      (column, i) =>
        column === columns[i] ||
        (isMissing(column) && isMissing(columns[i]!) && column.codes.length === columns[i]!.codes.length),
    )
  )
    return kept.plan
  const plan = makePlan(stage, columns)
  plans.set(stage, { columns, plan })
  return plan
}

/** The rows of the classes of one or several columns, the class of each order, and how many orders each class has. */
interface Classed {
  readonly classes: Int32Array
  readonly rows: readonly Row[]
  readonly weights: Float64Array
}

function classed({ codes, values }: Column, { rowFor }: Classifier): Classed {
  const places = new Map<Row, number>()
  const classOf = new Int32Array(values.length)
  // Numbers in their order: then rules that begin at nearby values come to stand together.
  const order = Array.from(values.keys()).sort((a, b) =>
    typeof values[a] === 'number' && typeof values[b] === 'number' ? values[a] - values[b] : a - b,
  )
  for (const code of order) {
    const row = rowFor(values[code])
    const place = places.get(row) ?? places.size
    places.set(row, place)
    classOf[code] = place
  }
  return weighed(
    Int32Array.from(codes, (code) => classOf[code]!),
    [...places.keys()],
  )
}

function weighed(classes: Int32Array, rows: readonly Row[]): Classed {
  const weights = new Float64Array(rows.length)
  for (const at of classes) weights[at]!++
  return { classes, rows, weights }
}

const fewClasses = 256

/**
 * The sources of a stage: columns with few classes joined into one, which lets fewer rules through than each of them.
 */
function sourcesOf(classifiers: readonly Classifier[], columns: readonly Column[]): Classed[] {
  const all = classifiers.map((classifier, i) => classed(columns[i]!, classifier))
  const few = all.filter(({ rows }) => rows.length <= fewClasses).sort((a, b) => b.rows.length - a.rows.length)
  const sources = all.filter((source) => !few.includes(source))
  const asColumn = ({ classes, rows }: Classed): Column => ({
    codes: Uint32Array.from(classes),
    values: rows.map((_, i) => i),
  })
  while (few.length > 0) {
    const together = [few.shift()!]
    let joint = jointOf(asColumn(together[0]!))
    while (few.length > 0 && canJoin(joint, asColumn(few[0]!))) {
      joint = join(joint, asColumn(few[0]!))
      together.push(few.shift()!)
    }
    // Sorted: then all that one class of the first column lets through stands together.
    const order = Array.from(joint.members.keys()).sort((a, b) => compared(joint.members[a]!, joint.members[b]!))
    const placeOf = new Int32Array(order.length)
    order.forEach((member, place) => {
      placeOf[member] = place
    })
    sources.push(
      weighed(
        Int32Array.from(joint.codes, (code) => placeOf[code]!),
        order.map((member) =>
          together
            .map(({ rows }, i) => rows[joint.members[member]![i]!]!)
            .reduce((a, b) => a.map((word, i) => word & b[i]!)),
        ),
      ),
    )
  }
  return sources
}

function compared(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i]! - b[i]!
  return 0
}

function makePlan({ ruleAt, classifiers }: StageProgram, columns: readonly Column[]): Plan {
  const sources = sourcesOf(classifiers, columns)
  const { bits, passed } = cluster(ruleAt.length, sources)
  const largest = sources.reduce((a, b) => (b.rows.length > a.rows.length ? b : a))
  const sequence = Int32Array.from(largest.classes.keys()).sort((a, b) => largest.classes[a]! - largest.classes[b]!)
  const portions = Math.ceil(bits.length / bitsPerPortion)
  const packed = sources.map(({ classes, rows }): PlanSource => ({
    classes: sequence.map((order) => classes[order]!),
    portions: Array.from({ length: portions }, (_, portion) =>
      portionOf(rows, bits.subarray(portion * bitsPerPortion, (portion + 1) * bitsPerPortion)),
    ),
  }))
  const order = packed
    .map((_, i) => i)
    .sort((a, b) => passed[a]! - passed[b]!)
    .map((i) => packed[i]!)
  const whole: Portion = { rows: new Int32Array(32).fill(-1), summaries: Int32Array.of(-1) }
  const all: PlanSource = {
    classes: new Int32Array(sequence.length),
    portions: new Array<Portion>(portions).fill(whole),
  }
  return {
    narrow: [order[0] ?? all, order[1] ?? all],
    others: order.slice(2),
    sequence,
    places: bits.map((bit) => ruleAt[bit]!),
  }
}

const bitsPerPortion = 1024

function portionOf(rows: readonly Row[], bits: Int32Array): Portion {
  const own = new Int32Array(rows.length * 32)
  const summaries = new Int32Array(rows.length)
  rows.forEach((row, at) => {
    bits.forEach((bit, i) => {
      if ((row[bit >>> 5]! & (1 << (bit & 31))) === 0) return
      own[at * 32 + (i >>> 5)]! |= 1 << (i & 31)
      summaries[at]! |= 1 << (i >>> 5)
    })
  })
  return { rows: own, summaries }
}

/**
 * An order of the bits in which those that the same orders can match stand together: by the source that lets the fewest
 * orders through to it, and by the first class that it lets through. Portions are not mixed: where one has a match, no
 * later one can have an earlier rule. `passed` is how many pairs of order and bit each source lets through.
 */
function cluster(count: number, sources: readonly Classed[]): { bits: Int32Array; passed: Float64Array } {
  const share = new Float64Array(count).fill(Infinity)
  const by = new Int32Array(count)
  const first = new Int32Array(count)
  const passed = new Float64Array(sources.length)
  sources.forEach(({ rows, weights }, source) => {
    const own = new Float64Array(count)
    const head = new Int32Array(count).fill(-1)
    rows.forEach((row, at) => {
      for (let bit = 0; bit < count; bit++)
        if ((row[bit >>> 5]! & (1 << (bit & 31))) !== 0) {
          own[bit]! += weights[at]!
          if (head[bit] === -1) head[bit] = at
        }
    })
    for (let bit = 0; bit < count; bit++) {
      passed[source]! += own[bit]!
      if (own[bit]! >= share[bit]!) continue
      share[bit] = own[bit]!
      by[bit] = source
      first[bit] = head[bit]!
    }
  })
  return {
    bits: Int32Array.from(share.keys()).sort(
      (a, b) => portionAt(a) - portionAt(b) || by[a]! - by[b]! || first[a]! - first[b]! || a - b,
    ),
    passed,
  }
}

const portionAt = (bit: number): number => Math.floor(bit / bitsPerPortion)

const none = 0x7fffffff

/** One portion of the rules after another; only orders that matched nothing so far are looked at again. */
function match(plan: Plan, winners: Int32Array): void {
  let open = new Int32Array(winners.length)
  for (let i = 0; i < open.length; i++) open[i] = i
  const { portions } = plan.narrow[0]
  for (let portion = 0; portion < portions.length && open.length > 0; portion++)
    open = open.subarray(0, matchPortion(plan, portion, open, winners))
}

/**
 * Here most of the time goes: two loads and an AND for a word, and nothing more where that leaves no bit. Gives how
 * many
 * of the orders matched nothing; they are moved to the front.
 */
function matchPortion(
  { narrow: [a, b], others, places, sequence }: Plan,
  portion: number,
  orders: Int32Array,
  winners: Int32Array,
): number {
  const [{ rows: rowsA, summaries: sumA }, { rows: rowsB, summaries: sumB }] = [
    a.portions[portion]!,
    b.portions[portion]!,
  ]
  const [inA, inB] = [a.classes, b.classes]
  const otherRows = others.map((source) => source.portions[portion]!.rows)
  const inOthers = others.map((source) => source.classes)
  const first = portion * bitsPerPortion
  let left = 0
  for (let at = 0; at < orders.length; at++) {
    const i = orders[at]!
    const classA = inA[i]!
    const classB = inB[i]!
    let best = none
    let open = sumA[classA]! & sumB[classB]!
    while (open !== 0) {
      const low = open & -open
      open ^= low
      const word = 31 - Math.clz32(low)
      let bits = rowsA[(classA << 5) + word]! & rowsB[(classB << 5) + word]!
      if (bits === 0) continue
      for (let o = 0; o < otherRows.length; o++) bits &= otherRows[o]![(inOthers[o]![i]! << 5) + word]!
      while (bits !== 0) {
        const lowest = bits & -bits
        bits ^= lowest
        const place = places[first + (word << 5) + 31 - Math.clz32(lowest)]!
        if (place < best) best = place
      }
    }
    if (best === none) orders[left++] = i
    else winners[sequence[i]!] = best
  }
  return left
}
