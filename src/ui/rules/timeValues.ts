import { type Operator, type Value, weekdays } from '@/core/rulebook/language'

/** What to type behind an operator of times, and how it is read; undefined when it is none. */
export function timeReader(op: Operator): readonly [string, (text: string) => Value | undefined] {
  switch (op) {
    case 'before':
    case 'after':
      return [
        'A day such as 2026-12-24.',
        (text) =>
          /^\d{4}-\d{2}-\d{2}$/.test(text.trim()) && !Number.isNaN(Date.parse(text.trim())) ? text.trim() : undefined,
      ]
    case 'time of day between':
      return [
        'Two times such as 12:00 and 23:59.',
        (text) => {
          const clocks = text.match(/\b([01]?\d|2[0-3]):[0-5]\d\b/g)
          return clocks?.length === 2 ? [clocks[0].padStart(5, '0'), clocks[1]!.padStart(5, '0')] : undefined
        },
      ]
    default:
      return [
        'A time such as 36 hours or 3 days.',
        (text) => {
          const match = /^(\d+(?:\.\d+)?)\s*(h|hours?|d|days?)$/i.exec(text.trim())
          if (!match || Number(match[1]) <= 0) return undefined
          return match[2]!.toLowerCase().startsWith('h') ? { hours: Number(match[1]) } : { days: Number(match[1]) }
        },
      ]
  }
}

/** How tests of a moment are typed: the words, and the operator they stand for. */
const timeWords: readonly (readonly [word: string, op: Operator])[] = [
  ['is missing', 'is missing'],
  ['is known', 'is known'],
  ['time of day between', 'time of day between'],
  ['between', 'time of day between'],
  ['within the last', 'within the last'],
  ['within the next', 'within the next'],
  ['last', 'within the last'],
  ['next', 'within the next'],
  ['before', 'before'],
  ['after', 'after'],
  ['weekday is', 'weekday is'],
  ['on', 'weekday is'],
  ['is', 'weekday is'],
]

/**
 * A test of a moment as it is typed behind its fact: `12:00-14:00`, `Monday, Tuesday`, `before 2026-12-24`, `last 36
 * hours`.
 */
export function readTypedTime(text: string): { readonly op: Operator; readonly value?: Value } | undefined {
  const typed = text.trim()
  for (const [word, op] of timeWords) {
    if (!typed.toLowerCase().startsWith(word)) continue
    const rest = typed.slice(word.length).trim()
    if (op === 'is missing' || op === 'is known') {
      if (rest === '') return { op }
      continue
    }
    const value = op === 'weekday is' ? readWeekdays(rest) : timeReader(op)[1](rest)
    if (value !== undefined) return { op, value }
  }
  const days = readWeekdays(typed)
  if (days) return { op: 'weekday is', value: days }
  const clocks = timeReader('time of day between')[1](typed)
  return clocks === undefined ? undefined : { op: 'time of day between', value: clocks }
}

/** `Mon, tue`; each by its first three letters at least. */
function readWeekdays(text: string): readonly string[] | undefined {
  const named = text
    .split(/,|\bor\b|\band\b/)
    .map((part) => part.trim().toLowerCase())
    .filter(Boolean)
    .map((part) => (part.length < 3 ? undefined : weekdays.find((day) => day.toLowerCase().startsWith(part))))
  return named.length > 0 && named.every((day) => day !== undefined) ? named : undefined
}
