import { type DecisionId, decisionById, decisionPhrase, type Wordings } from '@/core/rulebook/language'
import { weightText } from '../../kit/format'
import { typedWeight } from '../../kit/read'
import { readActionValue } from '../../rules/actionValues'

/** A pasted column as values of orders, or what is wrong with it and where. */
export interface ReadColumn {
  readonly values: readonly (readonly [order: number, value: unknown])[]
  /** The first of them in words. */
  readonly example: string
  readonly wrong: string
}

interface Numbered {
  readonly id: number
  readonly number: string
}

/**
 * Reads what was pasted: as many lines as there are orders, in their sequence, or two columns, the first of which has
 * order numbers. A head line is left out. Nothing is taken of a column in which one value cannot be read.
 */
export function readColumn(
  text: string,
  orders: readonly Numbered[],
  of: DecisionId | 'weigh',
  words: Wordings,
): ReadColumn {
  const wrong = (sentence: string): ReadColumn => ({ values: [], example: '', wrong: sentence })
  const lines = text.split(/\r?\n/).map((line) => line.split('\t').map((cell) => cell.trim()))
  while (lines.length > 0 && lines.at(-1)!.every((cell) => cell === '')) lines.pop()
  const width = Math.max(0, ...lines.map((cells) => cells.length))
  if (lines.length === 0) return wrong('Paste the values, one line for each order.')
  if (width > 2) return wrong(`There are ${width} columns: paste one of values, or two with order numbers before them.`)
  const value = (cell: string): unknown => {
    if (of === 'weigh') {
      const grams = typedWeight(cell)
      return grams !== null && grams > 0 ? grams : undefined
    }
    return readActionValue(decisionById.get(of)!, cell, words)
  }
  const byNumber = new Map(orders.map((order) => [order.number.toLowerCase(), order]))
  const isHead = (cells: readonly string[]): boolean =>
    value(cells.at(-1) ?? '') === undefined && (width === 1 || !byNumber.has(cells[0]!.toLowerCase()))
  const isLonger = width === 2 || lines.length === orders.length + 1
  const body = isLonger && lines.length > 1 && isHead(lines[0]!) ? lines.slice(1) : lines
  if (width === 1 && body.length !== orders.length)
    return wrong(
      `There are ${body.length} values for ${orders.length} orders: select as many, or paste order numbers, too.`,
    )
  const values: [number, unknown][] = []
  for (const [at, cells] of body.entries()) {
    const order = width === 1 ? orders[at] : byNumber.get((cells[0] ?? '').toLowerCase())
    const cell = cells[width - 1] ?? ''
    const line = `Line ${at + 1 + lines.length - body.length}`
    if (!order) return wrong(`${line}: order “${cells[0] ?? ''}” is not among those that are selected.`)
    // An empty cell leaves its order as it is.
    if (cell === '') continue
    const read = value(cell)
    if (read === undefined) return wrong(`${line}: “${cell}” cannot be read for order ${order.number}.`)
    values.push([order.id, read])
  }
  const [first] = values
  if (!first) return wrong('There is no value in it.')
  const number = orders.find(({ id }) => id === first[0])!.number
  const said = of === 'weigh' ? weightText(Number(first[1])) : decisionPhrase(of, first[1], words)
  return { values, example: `${number}: ${said}${values.length > 1 ? ' …' : ''}`, wrong: '' }
}
