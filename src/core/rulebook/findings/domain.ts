import { dayOf, instantAt, localTime, minuteOf } from '@/core/calendar'
import { foldText, plainText } from '@/core/order'
import {
  type Case,
  type FactType,
  type FactValue,
  isTextual,
  type Operator,
  type Test,
  timeTest,
} from '@/core/rulebook/language'
import {
  breakpoints,
  compactPostcode,
  compileTest,
  listMembers,
  type Names,
  type Predicate,
} from '@/core/rulebook/compile'
import { addBit, type Bits, hasBit, noBits } from './bits'
import { patternTexts } from './patterns'

/** What is known of the values of a source, besides the tests on it. */
export interface Ground {
  readonly type: FactType
  readonly values?: readonly string[]
  readonly least?: number
  readonly fractions?: boolean
  readonly always?: boolean
  /** Ordinary values, the most ordinary first. */
  readonly usual: readonly FactValue[]
}

/** The classes of values of a source that no test tells apart. */
export interface Domain {
  /** A value of each class; the open class, when there is one, stands last and has none. */
  readonly values: readonly FactValue[]
  readonly open: boolean
  /** For each test (by its text) the classes in which it may hold, and those in which it surely does. */
  readonly limits: ReadonlyMap<string, { readonly most: Bits; readonly least: Bits }>
}

/** A text that is the same for tests that ask the same. */
export const testKey = (test: Test): string => JSON.stringify([test.op, test.value])

/** Sorts the values of a source into classes by the tests on it. `now` and `zone` are for tests on moments. */
export function domainOf(ground: Ground, tests: readonly Test[], names: Names, now: number, zone: string): Domain {
  const distinct = new Map(tests.map((test) => [testKey(test), test]))
  const moment = { now, zone } as Case
  const predicates = [...distinct.values()].map((test): Predicate =>
    ground.type === 'time'
      ? (value) => timeTest(test, () => value as number | undefined)(moment)
      : compileTest(test, ground.type, names),
  )
  const { candidates, complete } = candidatesOf(ground, [...distinct.values()], names, now, zone)
  const classes = new Map<string, FactValue>()
  /** Of each class the tests that hold. */
  const held: Bits[] = []
  for (const value of candidates) {
    const text = folded(value, ground.type)
    const holds = noBits(predicates.length)
    for (let i = 0; i < predicates.length; i++) if (predicates[i]!(text)) addBit(holds, i)
    const key = holds.join()
    if (classes.has(key)) continue
    classes.set(key, value)
    held.push(holds)
  }
  const open = !complete
  const size = held.length + (open ? 1 : 0)
  const limits = new Map(
    [...distinct.keys()].map((key, i) => {
      const least = noBits(size)
      for (let at = 0; at < held.length; at++) if (hasBit(held[at]!, i)) addBit(least, at)
      if (!open) return [key, { most: least, least }]
      const most = least.slice()
      addBit(most, size - 1)
      return [key, { most, least }]
    }),
  )
  return { values: [...classes.values(), ...(open ? [undefined] : [])], open, limits }
}

const folded = (value: FactValue, type: FactType): FactValue =>
  typeof value === 'string' && isTextual(type) ? foldText(value) : value

interface Candidates {
  readonly candidates: readonly FactValue[]
  readonly complete: boolean
}

function candidatesOf(ground: Ground, tests: readonly Test[], names: Names, now: number, zone: string): Candidates {
  const missing: FactValue[] = ground.always ? [] : [undefined]
  switch (ground.type) {
    case 'yes/no':
      return { candidates: [...ground.usual, false, true], complete: true }
    case 'tags':
      return { candidates: [...ground.usual], complete: true }
    case 'time':
      return { candidates: [...ground.usual, ...instants(tests, now, zone), ...missing], complete: true }
    case 'text':
    case 'postcode':
    case 'country': {
      const texts = textsOf(ground, tests, names)
      return { candidates: [...texts.candidates, ...missing], complete: texts.complete }
    }
    default:
      return { candidates: [...ground.usual, ...numbersOf(ground, tests, names), ...missing], complete: true }
  }
}

/** Each breakpoint and what lies on both sides of it, as far as such values exist. */
function numbersOf({ least = 0, fractions }: Ground, tests: readonly Test[], names: Names): number[] {
  const points = Float64Array.from(new Set(tests.flatMap((test) => breakpoints(test, names.rates)))).sort()
  const found = new Set<number>()
  points.forEach((point, i) => {
    for (const value of [Math.floor(point) - 1, Math.floor(point), Math.ceil(point), Math.ceil(point) + 1])
      found.add(value)
    if (!fractions) return
    const next = points[i + 1]
    for (const value of [
      point,
      next === undefined ? point + 0.5 : (point + next) / 2,
      (point + (points[i - 1] ?? point - 1)) / 2,
    ])
      found.add(value)
  })
  if (Number.isFinite(least)) found.add(least)
  const sorted = Float64Array.from(found)
    .sort()
    .filter((value) => value >= least && (fractions || Number.isInteger(value)))
  // Between two points nothing is told apart: the least value there stands for all of them.
  let next = 0
  let between = -1
  return [...sorted].filter((value) => {
    while (next < points.length && points[next]! < value) next++
    if (points[next] === value) return true
    if (between === next) return false
    between = next
    return true
  })
}

/** What a test of a text looks for, as a pattern. */
function patternOf(op: Operator, value: string): string {
  if (op === 'contains') return `*${value}*`
  if (op === 'starts with') return `${value}*`
  return op === 'ends with' ? `*${value}` : value
}

function textsOf(ground: Ground, tests: readonly Test[], names: Names): Candidates {
  if (ground.values) return { candidates: ground.values, complete: true }
  const literals = new Map<string, string>()
  const patterns = new Set<string>()
  for (const test of tests) {
    const { op, value } = test
    if (op === 'is' || op === 'is not') literals.set(foldText(plainText(value)), plainText(value))
    else if (op === 'is one of' || op === 'is none of')
      for (const member of listMembers(value, names)) {
        if (ground.type === 'postcode' && /[*–-]|\.\./.test(member))
          for (const sample of postcodeSamples(member)) literals.set(foldText(sample), sample)
        literals.set(member, member)
      }
    else if (op === 'contains any of' || op === 'contains none of')
      for (const member of listMembers(value, names)) patterns.add(`*${member}*`)
    else if (typeof value === 'string' && ground.type === 'postcode')
      patterns.add(op === 'starts with' ? `${compactPostcode(value)}*` : compactPostcode(value))
    else if (typeof value === 'string') patterns.add(patternOf(op, value))
  }
  literals.delete('')
  // A pattern character in a text that is looked for as it is is a rarity that the patterns cannot say.
  const odd = tests.some(
    ({ op, value }) =>
      op !== 'matches' &&
      op !== 'is' &&
      op !== 'is not' &&
      textsNamed(op, value, names).some((text) => /[*?]/.test(text)),
  )
  const made = patternTexts([...patterns], new Set(literals.keys()))
  const country = ground.type === 'country'
  const usual = ground.usual.filter((value) => typeof value === 'string')
  const upper = (text: string): string => (country ? text.toUpperCase() : text)
  const named = [...literals.values()].map(upper)
  const other = ground.type === 'text' || ground.type === 'postcode' ? ['something else', 'x', '7'] : []
  return { candidates: [...usual, ...named, ...made.texts.map(upper), ...other], complete: made.complete && !odd }
}

/** Postcodes inside and around a prefix or a range. */
function postcodeSamples(member: string): string[] {
  if (member.endsWith('*')) return [member.slice(0, -1), `${member.slice(0, -1)}00`]
  const ends = member.split(/-|–|\.\./).map((end) => end.trim())
  return ends.flatMap((end) =>
    /^\d+$/.test(end)
      ? [end, String(Number(end) - 1).padStart(end.length, '0'), String(Number(end) + 1).padStart(end.length, '0')]
      : [end],
  )
}

const minutesPerDay = 1440

/**
 * Moments on and around everything that tests on a moment name: boundaries, a week of weekdays about each, times of
 * day.
 */
function instants(tests: readonly Test[], now: number, zone: string): number[] {
  const today = localTime(now, zone).day
  const days = new Set<number>([today])
  const minutes = new Set<number>([12 * 60])
  const weekdays = tests.some((test) => test.op === 'weekday is')
  const around = (day: number): void => {
    for (let by = weekdays ? -8 : -2; by <= (weekdays ? 8 : 2); by++) days.add(day + by)
  }
  around(today)
  for (const { op, value } of tests) {
    if ((op === 'before' || op === 'after') && typeof value === 'string' && !Number.isNaN(Date.parse(value)))
      around(dayOf(value))
    if (op === 'time of day between' && Array.isArray(value))
      for (const clock of value) {
        const minute = minuteOf(String(clock))
        if (minute !== null) for (const by of [-1, 0, 1]) minutes.add((minute + by + minutesPerDay) % minutesPerDay)
      }
  }
  return [...days]
    .sort((a, b) => Math.abs(a - today) - Math.abs(b - today))
    .flatMap((day) => [...minutes].map((minute) => instantAt(day, minute, zone)))
}

/** The texts that a test names. */
function textsNamed(op: Test['op'], value: Test['value'], names: Names): readonly string[] {
  if (typeof value === 'string') return [value]
  return op.startsWith('contains') ? [...listMembers(value, names)] : []
}
