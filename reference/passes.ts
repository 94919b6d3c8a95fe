import type { World } from '@/core/world'
import { atHome, plain, shown } from './plain'

/*
 * What a single test says of a value, of any kind: texts, postcodes, numbers and money, tags, yes or no, and moments.
 */

export type Value = string | number | boolean | readonly string[] | undefined
export interface Test {
  readonly fact: string
  readonly op: string
  readonly value?: unknown
}
/** What values are told by besides: rates, named groups, the moment and the clocks that count. */
export interface Means {
  readonly rates: World['rates']
  readonly groups: readonly { readonly id: string; readonly members: readonly string[] }[]
  readonly now: number
  readonly zone: () => string
}

export const known = (text: string): string | undefined => (plain(text) === '' ? undefined : text)
export const compact = (text: string): string => plain(text).replace(/[ -]/g, '')

const opposite: Readonly<Record<string, string>> = {
  'is not': 'is',
  'is none of': 'is one of',
  '≠': '=',
  'has none': 'has any',
  'contains none of': 'contains any of',
}

/** Whether a value, of a kind, passes a test. */
export function passes(test: Test, value: Value, kind: string, means: Means): boolean {
  const { op } = test
  if (opposite[op]) return !passes({ ...test, op: opposite[op] }, value, kind, means)
  if (op === 'is missing') return value === undefined
  if (op === 'is known') return value !== undefined
  if (value === undefined) return false
  if (kind === 'yes/no') return value === test.value
  if (kind === 'tags') return tagsPass(test, value as readonly string[], means)
  if (kind === 'number') return numberPasses(test, value as number, means)
  return textPasses(test, value as string, kind, means)
}

function tagsPass({ op, value }: Test, given: readonly string[], means: Means): boolean {
  const tags = given.map(plain)
  const wanted = members(value, means)
  return op === 'has any' ? wanted.some((tag) => tags.includes(tag)) : wanted.every((tag) => tags.includes(tag))
}

function numberPasses(test: Test, value: number, means: Means): boolean {
  const { op } = test
  const limit = (given: unknown): number | null =>
    typeof given === 'number' ? given : atHome(given as { minor: number; currency: string }, means.rates)
  if (op === 'between') {
    const [low, high] = (test.value as unknown[]).map(limit)
    return low !== null && high !== null && value >= low! && value <= high!
  }
  const end = limit(test.value)
  if (end === null) return false
  if (op === '=') return value === end
  if (op === '<') return value < end
  if (op === '≤') return value <= end
  return op === '>' ? value > end : value >= end
}

function textPasses(test: Test, value: string, kind: string, means: Means): boolean {
  const { op } = test
  const own = kind === 'postcode' ? compact : plain
  const text = own(value)
  if (op === 'is one of')
    return kind === 'postcode'
      ? members(test.value, means).some((member) => postcodeFits(plain(value), member))
      : members(test.value, means).includes(text)
  if (op === 'contains any of')
    return members(test.value, means).some((member) => member !== '' && text.includes(member))
  const wanted = own(typeof test.value === 'string' ? test.value : '')
  if (op === 'is') return text === wanted
  if (op === 'contains') return text.includes(wanted)
  if (op === 'starts with') return text.startsWith(wanted)
  return op === 'ends with' ? text.endsWith(wanted) : pattern(wanted, text)
}

function members(value: unknown, { groups }: Means): string[] {
  return (Array.isArray(value) ? (value as (string | { group: string })[]) : [])
    .flatMap((entry) =>
      typeof entry === 'string' ? [entry] : (groups.find(({ id }) => id === entry.group)?.members ?? []),
    )
    .map(plain)
}

export function timePasses({ op, value }: Test, at: number | undefined, { now, zone }: Means): boolean {
  if (op === 'is missing') return at === undefined
  if (op === 'is known') return at !== undefined
  if (at === undefined) return false
  const { day, clock, weekday } = shown(at, zone())
  const span = (): number => {
    const { hours, days } = value as { hours?: number; days?: number }
    return (hours ?? days! * 24) * 3_600_000
  }
  switch (op) {
    case 'before':
      return day < (value as string)
    case 'after':
      return day > (value as string)
    case 'within the last':
      return at <= now && now - at <= span()
    case 'within the next':
      return at >= now && at - now <= span()
    case 'weekday is':
      return (value as string[]).includes(weekday)
    default: {
      const [from, until] = value as [string, string]
      return from <= until ? clock >= from && clock <= until : clock >= from || clock <= until
    }
  }
}

/** `*` any run, `?` one character, told by trying. */
export function pattern(wanted: string, text: string): boolean {
  const [w, t] = [Array.from(wanted), Array.from(text)]
  const reach: boolean[][] = Array.from({ length: w.length + 1 }, () => new Array<boolean>(t.length + 1).fill(false))
  reach[0]![0] = true
  for (let i = 0; i <= w.length; i++)
    for (let k = 0; k <= t.length; k++) {
      if (!reach[i]![k]) continue
      if (w[i] === '*') {
        reach[i + 1]![k] = true
        if (k < t.length) reach[i]![k + 1] = true
      } else if (i < w.length && k < t.length && (w[i] === '?' || w[i] === t[k])) reach[i + 1]![k + 1] = true
    }
  return reach[w.length]![t.length]!
}

function postcodeFits(postcode: string, member: string): boolean {
  const bare = postcode.replace(/[ -]/g, '')
  if (bare === member.replace(/[ -]/g, '')) return true
  if (member.endsWith('*')) return bare.startsWith(member.slice(0, -1).replace(/[ -]/g, ''))
  const ends = member.split(/ ?(?:-|–|\.\.) ?/)
  if (
    ends.length !== 2 ||
    ends[0]!.length !== ends[1]!.length ||
    !/^[a-z0-9]+$/.test(ends[0]!) ||
    !/^[a-z0-9]+$/.test(ends[1]!)
  )
    return false
  const n = ends[0]!.length
  const head = bare.slice(0, n)
  if (head.length < n || head < ends[0]! || head > ends[1]!) return false
  if (!/\d/.test(bare[n] ?? '')) return true
  // A digit follows: only behind a blank or hyphen, or as the last part of a British postcode.
  let letters = 0
  for (const letter of postcode) {
    if (letter === ' ' || letter === '-') {
      if (letters === n) return true
    } else letters++
  }
  return /^[a-z]{1,2}\d[a-z\d]?\d[a-z]{2}$/.test(bare) && n === bare.length - 3
}
