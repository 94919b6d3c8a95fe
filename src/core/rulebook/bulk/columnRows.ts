import type { FactValue } from '@/core/rulebook/language'
import type { Classifier, Row } from '@/core/rulebook/compile'
import { canJoin, codeColumn, type Column, join, type Joint, jointOf } from './factColumns'
import type { OrderBlock } from './orderBlocks'

/** Rows of bits one after another. An order's begins at `startOf[code]`. */
export interface Rows {
  readonly rows: Int32Array
  readonly codes: Uint32Array
  readonly startOf: Int32Array
}

const fewValues = 64

/**
 * What the columns of a block say of the rules: columns with few values as one, each other by itself. `all` has the
 * bits of all rules. Columns, and which are joined, are worked out once per block, for whatever rulebook asks first.
 */
export function rowsOfColumns(block: OrderBlock, classifiers: readonly Classifier[], all: Row): Rows[] {
  const read = classifiers.map((classifier) => ({ classifier, column: columnOf(block, classifier) }))
  const few = read.filter(({ column }) => column.values.length <= fewValues)
  const found: Rows[] = []
  for (let at = 0; at < few.length;) {
    const { joint, count } = jointFrom(block, few.slice(at))
    found.push(rowsOfJoint(joint, few.slice(at, at + count), all))
    at += count
  }
  for (const { classifier, column } of read)
    if (column.values.length > fewValues) found.push(rowsOfColumn(column, classifier, all))
  return found
}

interface Read {
  readonly classifier: Classifier
  readonly column: Column
}

function columnOf(block: OrderBlock, { key, read }: Classifier): Column {
  let column = block.columns.get(key)
  if (!column)
    block.columns.set(key, (column = codeColumn(block.cases.length, (i): FactValue => read(block.cases[i]!))))
  return column
}

/** Joins as many of the columns, from the first on, as have few pairs of values. */
function jointFrom(block: OrderBlock, columns: readonly Read[]): { joint: Joint; count: number } {
  const [first] = columns as readonly [Read, ...Read[]]
  let joint = jointOf(first.column)
  let key = first.classifier.key
  let count = 1
  for (const { classifier, column } of columns.slice(1)) {
    if (!canJoin(joint, column)) break
    key += `\u0000${classifier.key}`
    let next = block.joints.get(key)
    if (!next) block.joints.set(key, (next = join(joint, column)))
    joint = next
    count++
  }
  return { joint, count }
}

function rowsOfJoint({ codes, members }: Joint, columns: readonly Read[], all: Row): Rows {
  const words = all.length
  const rowOf = columns.map(({ classifier, column }) => column.values.map(classifier.rowFor))
  const rows = new Int32Array(members.length * words)
  members.forEach((set, code) => {
    for (let word = 0; word < words; word++) {
      let bits = all[word]!
      for (let c = 0; c < set.length; c++) bits &= rowOf[c]![set[c]!]![word]!
      rows[code * words + word] = bits
    }
  })
  return { rows, codes, startOf: Int32Array.from(members, (_, code) => code * words) }
}

/** Each different row once, so that they stay at hand. */
function rowsOfColumn({ codes, values }: Column, { rowFor }: Classifier, all: Row): Rows {
  const words = all.length
  const places = new Map<Row, number>()
  const startOf = new Int32Array(values.length)
  values.forEach((value, code) => {
    const row = rowFor(value)
    const place = places.get(row) ?? places.size
    places.set(row, place)
    startOf[code] = place * words
  })
  const rows = new Int32Array(places.size * words)
  for (const [row, place] of places)
    for (let word = 0; word < words; word++) rows[place * words + word] = row[word]! & all[word]!
  return { rows, codes, startOf }
}
