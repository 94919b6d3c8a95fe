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

export type Row = Uint32Array

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
  readonly row: (c: Case) => Row
}

// Free text (names, numbers) has no end of values; past this many the memory is let go and filled anew.
const mostRemembered = 50_000

export function classifier(source: Source, words: number): Classifier {
  const rowOf = (value: FactValue): Row => {
    const row = new Uint32Array(words).fill(0xffffffff)
    source.tests.forEach((test, i) => {
      const rule = source.rules[i]!
      if (!test(value)) row[rule >>> 5]! &= ~(1 << (rule & 31))
    })
    return row
  }
  const missing = rowOf(undefined)
  switch (source.type) {
    case 'yes/no': {
      const yes = rowOf(true)
      const no = rowOf(false)
      return { row: (c) => { const value = source.read(c); return value === undefined ? missing : value ? yes : no } }
    }
    case 'text':
    case 'country':
      return { row: remembered(source, missing, (value) => value as string, (key) => rowOf(foldText(key))) }
    case 'tags':
      return { row: remembered(source, missing, (value) => (value as readonly string[]).join('\u0001'), (key) => rowOf(key === '' ? [] : key.split('\u0001').map(foldText))) }
    default:
      return { row: byInterval(source, missing, rowOf) }
  }
}

function remembered(source: Source, missing: Row, keyOf: (value: FactValue) => string, make: (key: string) => Row): (c: Case) => Row {
  const rows = new Map<string, Row>()
  return (c) => {
    const value = source.read(c)
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
function byInterval(source: Source, missing: Row, rowOf: (value: number) => Row): (c: Case) => Row {
  const points = Float64Array.from(new Set(source.breaks)).sort()
  const rows: Row[] = []
  for (let i = 0; i <= points.length; i++) {
    const below = i === 0 ? (points[0] ?? 0) - 1 : i === points.length ? points[i - 1]! + 1 : (points[i - 1]! + points[i]!) / 2
    rows.push(rowOf(below))
    if (i < points.length) rows.push(rowOf(points[i]!))
  }
  return (c) => {
    const value = source.read(c) as number | undefined
    if (value === undefined) return missing
    let low = 0
    let high = points.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (points[middle]! < value) low = middle + 1
      else high = middle
    }
    return rows[low < points.length && points[low] === value ? 2 * low + 1 : 2 * low]!
  }
}
