import { readMoment } from '@/core/calendar'
import { type DecimalSign, readNumber } from '@/core/units'

/** In which order a date of a file is written: year first (ISO 8601), day first, or month first. */
export const dateOrders = ['ymd', 'dmy', 'mdy'] as const
export type DateOrder = (typeof dateOrders)[number]

/** What a whole column says of its signs. */
export interface Proposal<T> {
  /** What all of it fits; null when it says nothing, or one thing here and another there. */
  readonly proposed: T | null
  /** A value that can be read in two ways, and nothing in the column says in which: a person has to. */
  readonly asked: string | null
}

/** Which sign stands before the decimals in a column of numbers, amounts or weights. */
export function decimalIn(cells: readonly string[]): Proposal<DecimalSign> {
  const seen = new Set<DecimalSign>()
  let doubtful: string | null = null
  for (const cell of cells) {
    const digits = /[\d.,'’ ]{1,60}/.exec(cell.trim())?.[0]?.trim() ?? ''
    const number = readNumber(digits)
    if (number === null) continue
    if (number === 'ambiguous') doubtful ??= cell.trim()
    else if (number.fraction !== '') seen.add(digits[digits.length - number.fraction.length - 1] === ',' ? ',' : '.')
    // What is repeated, or comes first, groups: the other one is for decimals.
    else if (digits.includes(',')) seen.add('.')
    else if (digits.includes('.')) seen.add(',')
  }
  const [sign] = seen
  const proposed = seen.size === 1 ? sign! : null
  return { proposed, asked: proposed === null ? doubtful : null }
}

const numeric = /^(\d{1,2})([./-])(\d{1,2})\2(\d{4})(?:[ T](\d{1,2}:\d{2}(?::\d{2})?))?$/

/** In which order day and month stand in a column of dates. */
export function dayIn(cells: readonly string[]): Proposal<DateOrder> {
  const seen = new Set<DateOrder>()
  let doubtful: string | null = null
  for (const cell of cells) {
    const match = numeric.exec(cell.trim())
    if (!match) continue
    const [first, second] = [Number(match[1]), Number(match[3])]
    if (first > 12) seen.add('dmy')
    else if (second > 12) seen.add('mdy')
    else if (first !== second) doubtful ??= cell.trim()
  }
  const [order] = seen
  const proposed = seen.size === 1 ? order! : null
  return { proposed, asked: proposed === null ? doubtful : null }
}

/**
 * A moment as a file writes it: ISO 8601, or numbers in the order of the file. Without a zone it is told by `zone`; a
 * day is its beginning. The end of a sentence when it cannot be read.
 */
export function momentIn(text: string, zone: string, order?: DateOrder): number | string {
  const iso = readMoment(text, zone)
  if (iso !== null) return iso
  const match = numeric.exec(text.trim())
  if (!match) return 'is no date: write YYYY-MM-DD.'
  const [, first = '', , second = '', year = '', clock] = match
  if ((order === undefined || order === 'ymd') && first !== second && Number(first) <= 12 && Number(second) <= 12)
    return 'could be two days: say for the file whether day or month comes first, or write YYYY-MM-DD.'
  const monthFirst = order === 'mdy' || ((order === undefined || order === 'ymd') && Number(second) > 12)
  const [day, month] = monthFirst ? [second, first] : [first, second]
  return (
    readMoment(`${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}${clock ? `T${clock}` : ''}`, zone) ??
    'is no date: write YYYY-MM-DD.'
  )
}
