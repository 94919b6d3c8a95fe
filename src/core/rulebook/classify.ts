import { foldText } from '@/core/order'
import type { FactType, FactValue } from './catalogue'
import type { Case } from './case'
import type { Predicate } from './predicate'

/*
 * For every source of values (a fact, or an item test), the values fall into classes that no rule tells apart. Each
 * class has one row: a bit per rule of the stage, set when the rule's tests on this source pass (or when it has none).
 * The rows of an order's classes, ANDed word by word, are the rules that can still match. So the cost per order grows
 * with the number of sources and with a 32nd of the number of rules, not with the number of tests.
 */

/** Signed words: they stay small integers in the engine, where unsigned ones would become floating-point numbers. */
export type Row = Int32Array

/** A source of values with all tests on it: `tests[i]` belongs to the rule with bit `rules[i]`. */
export interface Source {
  readonly type: FactType
  readonly read: (c: Case) => FactValue
  readonly rules: number[]
  readonly tests: Predicate[]
  /** For numbers: where an answer may change. */
  readonly breaks: number[]
}

export interface Classifier {
  /** What it classifies: `fact country`, or an item test in full. */
  readonly key: string
  readonly row: (c: Case) => Row
  /** The row of a value as the source gives it. */
  readonly rowFor: (value: FactValue) => Row
}

// Free text (names, numbers) has no end of values; past this many the memory is let go and filled anew.
const mostRemembered = 50_000

export function classifier(key: string, source: Source, words: number): Classifier {
  const rowOf = (value: FactValue): Row => {
    const row = new Int32Array(words).fill(-1)
    source.tests.forEach((test, i) => {
      const rule = source.rules[i]!
      if (!test(value)) row[rule >>> 5]! &= ~(1 << (rule & 31))
    })
    return row
  }
  const rowFor = rowsOf(source, rowOf)
  return { key, rowFor, row: (c) => rowFor(source.read(c)) }
}

function rowsOf(source: Source, rowOf: (value: FactValue) => Row): (value: FactValue) => Row {
  const missing = rowOf(undefined)
  switch (source.type) {
    case 'yes/no': {
      const yes = rowOf(true)
      const no = rowOf(false)
      return (value) => (value === undefined ? missing : value ? yes : no)
    }
    case 'text':
    case 'country': return remembered(missing, (value) => value as string, (key) => rowOf(foldText(key)))
    case 'tags': return remembered(missing, (value) => (value as readonly string[]).join('\u0001'), (key) => rowOf(key === '' ? [] : key.split('\u0001').map(foldText)))
    default: return byInterval(source.breaks, missing, rowOf)
  }
}

function remembered(missing: Row, keyOf: (value: FactValue) => string, make: (key: string) => Row): (value: FactValue) => Row {
  const rows = new Map<string, Row>()
  return (value) => {
    if (value === undefined) return missing
    const key = keyOf(value)
    let row = rows.get(key)
    if (!row) {
      row = make(key)
      if (rows.size >= mostRemembered) rows.clear()
      rows.set(key, row)
    }
    return row
  }
}

/** Numbers: a class for each breakpoint and for each open interval between two of them. */
function byInterval(breaks: readonly number[], missing: Row, rowOf: (value: number) => Row): (value: FactValue) => Row {
  const points = Float64Array.from(new Set(breaks)).sort()
  // Made when first met: a rulebook of thousands of rules has far more classes than its orders ever show.
  const rows: (Row | undefined)[] = new Array<Row | undefined>(2 * points.length + 1)
  const representative = (index: number): number => {
    const i = index >> 1
    if (index & 1) return points[i]!
    return i === 0 ? (points[0] ?? 0) - 1 : i === points.length ? points[i - 1]! + 1 : (points[i - 1]! + points[i]!) / 2
  }
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
