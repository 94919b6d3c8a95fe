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
 */
export function firstMatches(stage: StageProgram, count: number, column: (key: string) => Column | undefined): Int32Array | null {
  if (stage.rules.some((rule) => rule.rest !== null || rule.from !== -Infinity || rule.until !== Infinity)) return null
  const { words, classifiers, rules } = stage
  const tables = classifiers.map((classifier) => tableFor(column(classifier.key) ?? missingColumn(count), classifier, words))
  // All tables in one array: the innermost loop then reads a single one.
  const all = new Int32Array(tables.reduce((sum, { table }) => sum + table.length, 0))
  const starts: number[] = []
  let size = 0
  for (const { table } of tables) {
    all.set(table, size)
    starts.push(size)
    size += table.length
  }
  const winners = new Int32Array(count).fill(-1)
  const sources = tables.length
  const at = new Int32Array(sources)
  for (let i = 0; i < count; i++) {
    for (let s = 0; s < sources; s++) at[s] = starts[s]! + tables[s]!.offsets[tables[s]!.codes[i]!]!
    for (let word = 0; word < words; word++) {
      let bits = -1
      for (let s = 0; s < sources; s++) bits &= all[at[s]! + word]!
      if (bits === 0) continue
      const winner = (word << 5) + 31 - Math.clz32(bits & -bits)
      // Bits past the last rule stand for nothing.
      if (winner < rules.length) winners[i] = winner
      break
    }
  }
  return winners
}

const missingColumn = (count: number): Column => ({ codes: new Uint32Array(count), values: [undefined] })

interface Table { readonly codes: Uint32Array; readonly offsets: Int32Array; readonly table: Int32Array }
const tables = new WeakMap<Column, WeakMap<Classifier, Table>>()

/** The table of a column under a classifier, made once. */
function tableFor(column: Column, classifier: Classifier, words: number): Table {
  const made = tables.get(column) ?? new WeakMap<Classifier, Table>()
  tables.set(column, made)
  let table = made.get(classifier)
  if (!table) made.set(classifier, (table = makeTable(column, classifier, words)))
  return table
}

/** The rows of a column's values one after another, each distinct row once; and where the row of each code begins. */
function makeTable({ codes, values }: Column, { rowFor }: Classifier, words: number): Table {
  const places = new Map<Row, number>()
  const offsets = new Int32Array(values.length)
  for (let code = 0; code < values.length; code++) {
    const row = rowFor(values[code])
    let place = places.get(row)
    if (place === undefined) {
      place = places.size * words
      places.set(row, place)
    }
    offsets[code] = place
  }
  const table = new Int32Array(places.size * words)
  for (const [row, place] of places) table.set(row, place)
  return { codes, offsets, table }
}
