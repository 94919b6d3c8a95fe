import { foldText, glob, postcodeKey } from '@/core/order'
import { type Money, type Rates, toHome } from '@/core/units'
import {
  type FactType,
  type FactValue,
  isTextual,
  type Group,
  type ListEntry,
  type Test,
} from '@/core/rulebook/language'

/** Whether a fact's value passes a test. Text comes folded (foldText), money in minor units of the home currency. */
export type Predicate = (value: FactValue) => boolean

export interface Names {
  readonly groups: ReadonlyMap<string, Group>
  readonly rates: Rates
}

const never: Predicate = () => false

/**
 * Compiles one test. A missing value passes nothing but the negative tests, which are the exact opposites of their
 * partners. A value of the wrong type (the checks name it before anything is published) passes nothing.
 */
export function compileTest(test: Test, type: FactType, names: Names): Predicate {
  switch (test.op) {
    case 'is missing':
      return (value) => value === undefined
    case 'is known':
      return (value) => value !== undefined
    case 'is not':
      return not(compileTest({ ...test, op: 'is' }, type, names))
    case 'is none of':
      return not(compileTest({ ...test, op: 'is one of' }, type, names))
    case '≠':
      return not(compileTest({ ...test, op: '=' }, type, names))
    case 'contains none of':
      return not(compileTest({ ...test, op: 'contains any of' }, type, names))
    case 'has none':
      return not(compileTest({ ...test, op: 'has any' }, type, names))
    default:
  }
  if (isTextual(type)) return textTest(test, type, names)
  if (type === 'tags') return tagsTest(test, names)
  if (type === 'yes/no')
    return test.op === 'is' && typeof test.value === 'boolean' ? (value) => value === test.value : never
  return numberTest(test, names)
}

const not =
  (predicate: Predicate): Predicate =>
  (value) =>
    !predicate(value)

function textTest(test: Test, type: FactType, names: Names): Predicate {
  if (type === 'postcode') return postcodeTest(test, names)
  if (test.op === 'is one of') {
    const members = listMembers(test.value, names)
    return (value) => typeof value === 'string' && members.has(value)
  }
  if (test.op === 'contains any of') {
    const phrases = [...listMembers(test.value, names)].filter(Boolean)
    return (value) => typeof value === 'string' && phrases.some((phrase) => value.includes(phrase))
  }
  if (typeof test.value !== 'string') return never
  const wanted = foldText(test.value)
  switch (test.op) {
    case 'is':
      return (value) => value === wanted
    case 'contains':
      return (value) => typeof value === 'string' && value.includes(wanted)
    case 'starts with':
      return (value) => typeof value === 'string' && value.startsWith(wanted)
    case 'ends with':
      return (value) => typeof value === 'string' && value.endsWith(wanted)
    case 'matches': {
      const matches = glob(wanted)
      return (value) => typeof value === 'string' && matches(value)
    }
    default:
      return never
  }
}

/** Postcodes are compared without blanks and hyphens: `SW1A 1AA` is `SW1A1AA`. */
function postcodeTest(test: Test, names: Names): Predicate {
  if (test.op === 'is one of') {
    const members = listMembers(test.value, names)
    const plain = new Set([...members].map(compactPostcode))
    const ranges = postcodeRanges(members)
    return (value) =>
      typeof value === 'string' && (plain.has(compactPostcode(value)) || ranges.some((within) => within(value)))
  }
  if (typeof test.value !== 'string') return never
  const passes = textTest({ ...test, value: compactPostcode(foldText(test.value)) }, 'text', names)
  return (value) => passes(typeof value === 'string' ? compactPostcode(value) : value)
}

/** A postcode, or a pattern of one, as it is compared. */
export const compactPostcode = (text: string): string => postcodeKey(text).toLowerCase()

function tagsTest(test: Test, names: Names): Predicate {
  const wanted = listMembers(test.value, names)
  switch (test.op) {
    case 'has any':
      return (value) => Array.isArray(value) && value.some((tag: string) => wanted.has(tag))
    case 'has all':
      return (value) => Array.isArray(value) && [...wanted].every((tag) => value.includes(tag))
    default:
      return never
  }
}

function numberTest(test: Test, names: Names): Predicate {
  if (test.op === 'between') {
    if (!Array.isArray(test.value) || test.value.length !== 2) return never
    const low = plainNumber(test.value[0], names.rates)
    const high = plainNumber(test.value[1], names.rates)
    return low === null || high === null ? never : (value) => typeof value === 'number' && value >= low && value <= high
  }
  const limit = plainNumber(test.value, names.rates)
  if (limit === null) return never
  switch (test.op) {
    case '=':
      return (value) => value === limit
    case '<':
      return (value) => typeof value === 'number' && value < limit
    case '≤':
      return (value) => typeof value === 'number' && value <= limit
    case '>':
      return (value) => typeof value === 'number' && value > limit
    case '≥':
      return (value) => typeof value === 'number' && value >= limit
    default:
      return never
  }
}

/**
 * Members of a list of postcodes that are a prefix (`20*`) or a range (`1000-1299`, compared by as many characters as
 * its ends have, which must be a whole part of the postcode: `1000 AB` is in it, `10005` is not).
 */
function postcodeRanges(members: ReadonlySet<string>): ((postcode: string) => boolean)[] {
  const ranges: ((postcode: string) => boolean)[] = []
  for (const member of members) {
    if (member.endsWith('*')) {
      const prefix = compactPostcode(member.slice(0, -1))
      ranges.push((postcode) => compactPostcode(postcode).startsWith(prefix))
      continue
    }
    const ends = /^([a-z0-9]+)\s*(?:-|–|\.\.)\s*([a-z0-9]+)$/.exec(member)
    if (ends?.[1]!.length !== ends?.[2]!.length || !ends) continue
    const [low, high] = [ends[1]!, ends[2]!]
    ranges.push((postcode) => {
      const whole = compactPostcode(postcode)
      const head = whole.slice(0, low.length)
      return (
        head.length === low.length &&
        head >= low &&
        head <= high &&
        (!/^\d/.test(whole.slice(low.length)) || partEndsAt(postcode, whole, low.length))
      )
    })
  }
  return ranges
}

/**
 * Whether a part of a postcode ends after so many of its characters: a blank or hyphen follows, or the last three of a
 * British one.
 */
function partEndsAt(postcode: string, whole: string, length: number): boolean {
  if (/^[a-z]{1,2}\d[a-z\d]?\d[a-z]{2}$/.test(whole) && whole.length - 3 === length) return true
  let seen = 0
  for (const letter of postcode) {
    if (letter === ' ' || letter === '-') {
      if (seen === length) return true
    } else seen++
  }
  return false
}

/** The numbers at which a test on a number may change its answer. */
export function breakpoints(test: Test, rates: Rates): number[] {
  const ends = Array.isArray(test.value) ? test.value : [test.value]
  return ends.map((end: unknown) => plainNumber(end, rates)).filter((n): n is number => n !== null)
}

function plainNumber(value: unknown, rates: Rates): number | null {
  if (typeof value === 'number') return Number.isFinite(value) ? value : null
  if (typeof value === 'object' && value !== null && 'minor' in value) return toHome(value as Money, rates)
  return null
}

/** The members of a list value, folded, with those of the groups that it names; none for what is no list. */
export function listMembers(value: unknown, names: Names): ReadonlySet<string> {
  const members = new Set<string>()
  for (const entry of (Array.isArray(value) ? value : []) as ListEntry[]) {
    if (typeof entry === 'string') members.add(foldText(entry))
    else for (const member of names.groups.get(entry.group)?.members ?? []) members.add(foldText(member))
  }
  return members
}
