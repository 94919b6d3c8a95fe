import { foldText } from '@/core/order'
import { type FactType, type FactValue, type Case } from '@/core/rulebook/language'
import type { Predicate } from './predicates'

/*
 * For every source of values (a fact, or an item test), the values fall into classes that no rule tells apart. Each
 * class has one row: a bit for each way in which a rule of the stage can hold, set when its tests on this source pass
 * (or when it has none). The rows of an order's classes, ANDed word by word, are the rules that match. So the cost per
 * order grows with the number of sources and with a 32nd of the number of rules, not with the number of tests.
 */

/** Signed words: they stay small integers in the engine, where unsigned ones would become floating-point numbers. */
export type Row = Int32Array

/**
 * What a value hangs on: the order as it came, its items alone, the order and the clock of its location, or what
 * earlier stages settled.
 */
export type Reach = 'order' | 'items' | 'clock' | 'stages'

/** A source of values with all tests on it: `tests[i]` belongs to the bit `bits[i]`. */
export interface Source {
  readonly reach: Reach
  readonly type: FactType
  readonly read: (c: Case) => FactValue
  readonly bits: number[]
  readonly tests: Predicate[]
  /** For numbers: where the answer of which test may change. */
  readonly breaks: { readonly at: number; readonly test: number }[]
}

export interface Classifier {
  /** What it classifies: `fact country`, or an item test in full. */
  readonly key: string
  readonly reach: Reach
  /** The words of a row that it has a say in; all bits of the others are set. */
  readonly says: Int32Array
  readonly read: (c: Case) => FactValue
  readonly row: (c: Case) => Row
  /** The row of a value as the source gives it. */
  readonly rowFor: (value: FactValue) => Row
}

// Free text (names, numbers) has no end of values; past this many the memory is let go and filled anew.
const maxRemembered = 50_000

/**
 * A source made ready: for a case, the row of bits whose conditions it lets pass. `words` is the number of 32-bit
 * words.
 */
export function classifier(key: string, source: Source, words: number): Classifier {
  const rowOf = (value: FactValue): Row => {
    const row = new Int32Array(words).fill(-1)
    source.tests.forEach((test, i) => {
      const bit = source.bits[i]!
      if (!test(value)) row[bit >>> 5]! &= ~(1 << (bit & 31))
    })
    return row
  }
  const rowFor = rowsOf(source, rowOf)
  const says = Int32Array.from(new Set(source.bits.map((bit) => bit >>> 5))).sort()
  return { key, reach: source.reach, says, read: source.read, rowFor, row: (c) => rowFor(source.read(c)) }
}

function rowsOf(source: Source, rowOf: (value: FactValue) => Row): (value: FactValue) => Row {
  const missing = rowOf(undefined)
  switch (source.type) {
    case 'yes/no': {
      const yes = rowOf(true)
      const no = rowOf(false)
      return (value) => {
        if (value === undefined) return missing
        return value ? yes : no
      }
    }
    case 'text':
    case 'postcode':
    case 'country':
      return remembered(
        missing,
        (value) => value as string,
        (key) => rowOf(foldText(key)),
      )
    case 'tags':
      return remembered(
        missing,
        (value) => (value as readonly string[]).join('\u0001'),
        (key) => rowOf(key === '' ? [] : key.split('\u0001').map(foldText)),
      )
    default:
      return byInterval(source, missing, rowOf)
  }
}

function remembered(
  missing: Row,
  keyOf: (value: FactValue) => string,
  make: (key: string) => Row,
): (value: FactValue) => Row {
  const rows = new Map<string, Row>()
  return (value) => {
    if (value === undefined) return missing
    const key = keyOf(value)
    let row = rows.get(key)
    if (!row) {
      row = make(key)
      if (rows.size >= maxRemembered) rows.clear()
      rows.set(key, row)
    }
    return row
  }
}

// Past this many words the rows of a source are made only as orders meet them.
const maxWords = 8_000_000

/**
 * Numbers: a class for each breakpoint and for each open interval between two of them. From one class to the next only
 * the bits with that breakpoint can change, so each row is the one before with few bits changed.
 */
function byInterval(source: Source, missing: Row, rowOf: (value: number) => Row): (value: FactValue) => Row {
  const points = Float64Array.from(new Set(source.breaks.map(({ at }) => at))).sort()
  const representative = (index: number): number => {
    const i = index >> 1
    if (index & 1) return points[i]!
    if (i === 0) return (points[0] ?? 0) - 1
    return i === points.length ? points[i - 1]! + 1 : (points[i - 1]! + points[i]!) / 2
  }
  const classes = 2 * points.length + 1
  const rows: (Row | undefined)[] = new Array<Row | undefined>(classes)
  if (classes * missing.length <= maxWords) sweep(source, points, representative, rows, rowOf)
  return (given) => {
    if (given === undefined) return missing
    const value = given as number
    let low = 0
    let high = points.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (points[middle]! < value) low = middle + 1
      else high = middle
    }
    const index = low < points.length && points[low] === value ? 2 * low + 1 : 2 * low
    return (rows[index] ??= rowOf(representative(index)))
  }
}

function sweep(
  source: Source,
  points: Float64Array,
  representative: (index: number) => number,
  rows: (Row | undefined)[],
  rowOf: (value: number) => Row,
): void {
  const bitsAt = new Map<number, Set<number>>()
  for (const { at, test } of source.breaks)
    bitsAt.set(at, (bitsAt.get(at) ?? new Set<number>()).add(source.bits[test]!))
  // There may be several tests on one source for a bit; it is set only when all of them pass.
  const testsOf = new Map<number, Predicate[]>()
  source.bits.forEach((bit, i) => testsOf.set(bit, [...(testsOf.get(bit) ?? []), source.tests[i]!]))
  rows[0] = rowOf(representative(0))
  for (let index = 1; index < rows.length; index++) {
    const value = representative(index)
    const row = rows[index - 1]!.slice()
    for (const bit of bitsAt.get(points[(index - 1) >> 1]!)!) {
      if (testsOf.get(bit)!.every((test) => test(value))) row[bit >>> 5]! |= 1 << (bit & 31)
      else row[bit >>> 5]! &= ~(1 << (bit & 31))
    }
    rows[index] = row
  }
}
