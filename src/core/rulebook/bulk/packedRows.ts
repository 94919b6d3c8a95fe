/*
 * Rows of plain JSON as bytes, column by column: each different value of a field is kept once, and a row is its number.
 * Past orders repeat themselves: the same baskets, places, wordings and amounts come again and again.
 *
 * The bytes are: the length of a heading (32 bits, little-endian), the heading (JSON, UTF-8), and for each column the
 * numbers of all rows (8, 16 or 32 bits each, little-endian). Number 0 stands for a field that a row does not have.
 */
type Json = string | number | boolean | null | readonly Json[] | { readonly [name: string]: Json }

interface ColumnHeading {
  readonly name: string
  /** 1, 2 or 4 bytes a number. */
  readonly width: 1 | 2 | 4
  /** The different values; of a column of lists, the different elements of them. */
  readonly values: readonly Json[]
  /** The different lists, each the numbers of its elements in `values`; only in a column of lists. */
  readonly lists?: readonly (readonly number[])[]
}

interface Heading {
  readonly rows: number
  readonly columns: readonly ColumnHeading[]
}

/** Different values in the order in which they came first, each with its number. */
class Numbered<T> {
  readonly values: T[] = []
  readonly #numbers = new Map<unknown, number>()
  numberOf(key: unknown, value: T): number {
    let number = this.#numbers.get(key)
    if (number === undefined) {
      number = this.values.length
      this.#numbers.set(key, number)
      this.values.push(value)
    }
    return number
  }
}

// Texts are told apart from the JSON of other values by what stands before them.
const keyOf = (value: unknown): unknown => (typeof value === 'string' ? value : `\u0000${JSON.stringify(value)}`)

/** Packs rows of plain JSON. A field that is `undefined` is one that the row does not have. */
export function packRows(rows: readonly object[]): Uint8Array {
  const names = [...new Set(rows.flatMap((row) => Object.keys(row)))]
  const columns: ColumnHeading[] = []
  const codes: Uint32Array[] = []
  for (const name of names) {
    const values = rows.map((row) => (row as Record<string, unknown>)[name])
    const { heading, numbers } = values.every((value) => value === undefined || Array.isArray(value))
      ? listColumn(name, values as (readonly Json[] | undefined)[])
      : plainColumn(name, values as (Json | undefined)[])
    columns.push(heading)
    codes.push(numbers)
  }
  const heading = new TextEncoder().encode(JSON.stringify({ rows: rows.length, columns } satisfies Heading))
  const bytes = new Uint8Array(4 + heading.length + columns.reduce((sum, { width }) => sum + width * rows.length, 0))
  const view = new DataView(bytes.buffer)
  view.setUint32(0, heading.length, true)
  bytes.set(heading, 4)
  let at = 4 + heading.length
  columns.forEach(({ width }, column) => {
    for (const number of codes[column]!) {
      for (let byte = 0; byte < width; byte++) bytes[at + byte] = number >>> (8 * byte)
      at += width
    }
  })
  return bytes
}

function plainColumn(
  name: string,
  all: readonly (Json | undefined)[],
): { heading: ColumnHeading; numbers: Uint32Array } {
  const known = new Numbered<Json>()
  const numbers = Uint32Array.from(all, (value) => (value === undefined ? 0 : 1 + known.numberOf(keyOf(value), value)))
  return { heading: { name, width: widthFor(known.values.length), values: known.values }, numbers }
}

function listColumn(
  name: string,
  all: readonly (readonly Json[] | undefined)[],
): { heading: ColumnHeading; numbers: Uint32Array } {
  const elements = new Numbered<Json>()
  const lists = new Numbered<readonly number[]>()
  const numbers = Uint32Array.from(all, (list) => {
    if (list === undefined) return 0
    const coded = list.map((element) => elements.numberOf(keyOf(element), element))
    return 1 + lists.numberOf(coded.join(), coded)
  })
  return {
    heading: { name, width: widthFor(lists.values.length), values: elements.values, lists: lists.values },
    numbers,
  }
}

function widthFor(highest: number): 1 | 2 | 4 {
  if (highest < 0x100) return 1
  return highest < 0x10000 ? 2 : 4
}

/**
 * Unpacks what `packRows` packed. Equal values of a field are one object in all rows that have them: whoever asks
 * something of one of them can remember the answer. An `Error` where the bytes are not of this form.
 */
export function unpackRows<Row extends object>(bytes: Uint8Array): Row[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const length = bytes.length < 4 ? Infinity : view.getUint32(0, true)
  if (4 + length > bytes.length) throw new Error('Packed rows end too early.')
  const { rows: count, columns } = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Heading
  const rows = Array.from({ length: count }, (): Record<string, unknown> => ({}))
  let at = 4 + length
  if (at + columns.reduce((sum, { width }) => sum + width * count, 0) !== bytes.length)
    throw new Error('Packed rows do not have the length that their heading says.')
  for (const { name, width, values, lists } of columns) {
    const all: readonly unknown[] = lists?.map((list) => list.map((element) => values[element])) ?? values
    for (const row of rows) {
      let number = bytes[at]!
      if (width > 1) number |= bytes[at + 1]! << 8
      if (width > 2) number = (number | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24)) >>> 0
      at += width
      if (number > 0) row[name] = all[number - 1]
    }
  }
  return rows as Row[]
}
