import {
  type Fact,
  facts,
  type FactType,
  isTextual,
  type ListEntry,
  itemFacts,
  type Operator,
  operatorsOf,
  type Stage,
  stageIndex,
  takesList,
  thingsOf,
  type Test,
  type Value,
  type Wordings,
} from '@/core/rulebook/language'
import { readTypedTime } from './timeValues'
import { readList, readQuantity } from './values'

/*
 * What a person types in one go: `order value >= 400`, `weight 2-5 kg`, `country BE, NL`; and behind a fact alone:
 * `>= 400`, `below 2 kg`, `between 10 and 20`, `not DE`.
 */

/** A test without its fact. */
export interface TypedTest {
  readonly op: Operator
  readonly value?: Value
}

/** What names stand for: groups, and things of the world by fact. */
type Names = Pick<Wordings, 'groups'> & Partial<Wordings>

/** How operators are typed, the longer before the shorter; what they mean depends on whether values are ordered. */
const words: readonly (readonly [word: string, ordered: Operator | null, textual: Operator | null])[] = [
  ['is none of', null, 'is none of'],
  ['is not one of', null, 'is none of'],
  ['none of', null, 'is none of'],
  ['not in', null, 'is none of'],
  ['is one of', null, 'is one of'],
  ['one of', null, 'is one of'],
  ['in', null, 'is one of'],
  ['contains any of', null, 'contains any of'],
  ['contains none of', null, 'contains none of'],
  ['contains', null, 'contains'],
  ['starts with', null, 'starts with'],
  ['begins with', null, 'starts with'],
  ['ends with', null, 'ends with'],
  ['matches', null, 'matches'],
  ['is missing', 'is missing', 'is missing'],
  ['missing', 'is missing', 'is missing'],
  ['is known', 'is known', 'is known'],
  ['is at least', '≥', null],
  ['at least', '≥', null],
  ['from', '≥', null],
  ['is at most', '≤', null],
  ['at most', '≤', null],
  ['up to', '≤', null],
  ['is more than', '>', null],
  ['more than', '>', null],
  ['greater than', '>', null],
  ['is above', '>', null],
  ['above', '>', null],
  ['over', '>', null],
  ['is less than', '<', null],
  ['less than', '<', null],
  ['is below', '<', null],
  ['below', '<', null],
  ['under', '<', null],
  ['>=', '≥', null],
  ['=>', '≥', null],
  ['≥', '≥', null],
  ['<=', '≤', null],
  ['=<', '≤', null],
  ['≤', '≤', null],
  ['>', '>', null],
  ['<', '<', null],
  ['!=', '≠', 'is not'],
  ['≠', '≠', 'is not'],
  ['is not', '≠', 'is not'],
  ['not', '≠', 'is not'],
  ['==', '=', 'is'],
  ['=', '=', 'is'],
  ['is', '=', 'is'],
]

const beginsWith = (text: string, word: string): boolean =>
  text.toLowerCase().startsWith(word) && (/[^a-z]$/i.test(word) || !/^[a-z]/i.test(text.slice(word.length)))

/**
 * A test as it is typed behind its fact, operator and value together; undefined when it is none. A bare value means
 * what is meant most often: the text itself, one of several, at least the number.
 */
export function readTypedTest(text: string, fact: string, type: FactType, names: Names): TypedTest | undefined {
  const typed = text.trim()
  if (typed === '') return undefined
  if (type === 'time') return readTypedTime(typed)
  if (type === 'yes/no') return readYesNo(typed)
  if (type === 'tags') return readTags(typed, names)
  const textual = isTextual(type)
  for (const [word, ordered, forText] of words) {
    const op = textual ? forText : ordered
    if (!op || !operatorsOf[type].includes(op) || !beginsWith(typed, word)) continue
    const rest = typed.slice(word.length).trim()
    if (op === 'is missing' || op === 'is known') {
      if (rest === '') return { op }
      continue
    }
    const read = textual ? readTexts(rest, op, fact, type, names) : readOrdered(rest, op, type)
    if (read) return read
  }
  return textual ? readTexts(typed, 'is', fact, type, names) : readOrdered(typed, '≥', type)
}

/** Whether what was typed names its operator: then it is more than a value. */
export function hasOperator(text: string, type: FactType): boolean {
  const typed = text.trim()
  if (!isTextual(type) && rangeIn(typed) !== null) return true
  return words.some(([word, ordered, textual]) => (isTextual(type) ? textual : ordered) && beginsWith(typed, word))
}

/** What was typed as the value of a test that has its operator: a value for it, or an operator of its own with one. */
export function readTypedValue(
  text: string,
  { fact, op }: Pick<Test, 'fact' | 'op'>,
  type: FactType,
  names: Names,
): TypedTest | undefined {
  if (hasOperator(text, type)) return readTypedTest(text, fact, type, names)
  return isTextual(type) ? readTexts(text, op, fact, type, names) : readOrdered(text, op, type)
}

function readYesNo(typed: string): TypedTest | undefined {
  const plain = typed.toLowerCase().replace(/^(?:is|=)\s+/, '')
  if (plain === 'yes' || plain === 'true') return { op: 'is', value: true }
  return plain === 'no' || plain === 'false' ? { op: 'is', value: false } : undefined
}

function readTags(typed: string, names: Names): TypedTest | undefined {
  for (const [word, op] of [
    ['has none of', 'has none'],
    ['has none', 'has none'],
    ['has all of', 'has all'],
    ['has all', 'has all'],
    ['has any of', 'has any'],
    ['has any', 'has any'],
    ['not', 'has none'],
    ['has', 'has any'],
  ] as const)
    if (beginsWith(typed, word)) {
      const value = readList(typed.slice(word.length), names.groups)
      return value && { op, value }
    }
  const value = readList(typed, names.groups)
  return value && { op: 'has any', value }
}

const oneToMany: Partial<Record<Operator, Operator>> = { is: 'is one of', 'is not': 'is none of' }

function readTexts(rest: string, op: Operator, fact: string, type: FactType, names: Names): TypedTest | undefined {
  const entries = readList(rest.replace(/ or /gi, ', '), names.groups)?.map((entry) => meant(entry, fact, type, names))
  if (!entries) return undefined
  const listed = entries.length > 1 || typeof entries[0] !== 'string'
  const fitting = listed ? (oneToMany[op] ?? op) : op
  if (takesList(fitting, type)) return { op: fitting, value: entries }
  return listed ? undefined : { op, value: entries[0] as string }
}

/** Countries by their codes, things of the world by name or identifier, all else as it was typed. */
function meant(entry: ListEntry, fact: string, type: FactType, { world, channels, groups }: Names): ListEntry {
  if (typeof entry !== 'string') return entry
  if (type === 'country') return entry.toUpperCase()
  if (!world) return entry
  const wanted = entry.toLowerCase()
  const things = thingsOf(fact, { world, groups, ...(channels ? { channels } : {}) })
  return things.find(({ id, name }) => name.toLowerCase() === wanted || id.toLowerCase() === wanted)?.id ?? entry
}

function readOrdered(rest: string, op: Operator, type: FactType): TypedTest | undefined {
  const range = rangeIn(rest)
  if (range) {
    const to = readQuantity(type, range[1])
    // `2-5 kg`: the unit of the end is that of the beginning too.
    const unit = unitOf(range[1])
    const from = readQuantity(type, /[a-z€£$]/i.test(range[0]) ? range[0] : `${range[0]} ${unit}`.trim())
    return from === undefined || to === undefined ? undefined : { op: 'between', value: [from, to] as unknown as Value }
  }
  const value = readQuantity(type, rest)
  return value === undefined ? undefined : { op, value }
}

/** What is behind the last digit: `kg` of `5 kg`. */
function unitOf(text: string): string {
  let end = text.length
  while (end > 0 && !/\d/.test(text[end - 1]!)) end--
  return text.slice(end).trim()
}

/** The two ends of `10-20`, `between 10 and 20`, `2 to 5 kg`; null when it is no range. */
function rangeIn(text: string): readonly [string, string] | null {
  const typed = text.trim()
  const bare = /^between\s/i.test(typed) ? typed.slice('between'.length) : typed
  const parts = bare.trim().split(/ and | to |–|\.\.|(?<=[\da-z]|[\da-z] )-/i)
  return parts.length === 2 && parts.every((part) => /\d/.test(part)) ? [parts[0]!.trim(), parts[1]!.trim()] : null
}

interface Named {
  readonly id: string
  readonly name: string
  readonly type: FactType
}

/** Facts that a stage may test. */
export const factsAt = (stage: Stage): readonly Fact[] =>
  facts.filter(({ settledBy }) => !settledBy || stageIndex(settledBy) < stageIndex(stage))

/**
 * A whole test as it is typed in one go; undefined when no fact begins it, or what comes behind is no test of it. The
 * fact with the longest name counts: `order value` before `order`. Where no whole name does, the first letters of its
 * words are enough, as long as an operator or a number is behind them: `val >400`, `wei 2-5 kg`.
 */
export function readTypedCondition(text: string, stage: Stage, inItem: boolean, names: Names): Test | undefined {
  const typed = text.trim().replace(/\s+/g, ' ')
  const candidates: readonly Named[] = inItem ? itemFacts : factsAt(stage)
  const named = candidates
    .flatMap((fact) => [fact.name, fact.id].map((name) => ({ fact, name })))
    .filter(({ name }) => beginsWith(typed, name.toLowerCase()))
    .sort((a, b) => b.name.length - a.name.length)
  for (const { fact, name } of named) {
    const test = readTypedTest(typed.slice(name.length), fact.id, fact.type, names)
    if (test) return { fact: fact.id, ...test }
  }
  return readBegun(typed, candidates, names)
}

/** With words of the fact's name only begun; of several facts, the first whose short or whole name they
 * begin. */
function readBegun(typed: string, candidates: readonly Named[], names: Names): Test | undefined {
  const letters = /^[a-z][a-z -]*/i.exec(typed)?.[0] ?? ''
  const said = letters.trim().toLowerCase().split(/[ -]+/)
  for (let taken = Math.min(said.length, 4); taken > 0; taken--) {
    const head = said.slice(0, taken)
    const rest = behindWords(typed, taken)
    const begun = head.join(' ')
    const rank = ({ id, name }: Named): number => [id, name.toLowerCase()].findIndex((is) => is.startsWith(begun)) >>> 0
    const fitting = candidates.filter(({ name }) => abbreviates(head, name)).sort((a, b) => rank(a) - rank(b))
    for (const fact of fitting) {
      if (!/^\d/.test(rest) && !hasOperator(rest, fact.type)) continue
      const test = readTypedTest(rest, fact.id, fact.type, names)
      if (test) return { fact: fact.id, ...test }
    }
  }
  return undefined
}

/** What is behind so many words. */
function behindWords(text: string, count: number): string {
  let rest = text
  for (let i = 0; i < count; i++) rest = rest.replace(/^[a-z]+[ -]*/i, '')
  return rest
}

/** Whether each of the words begins one of the name, in the name's order: `val` and `ord val` of `order value`. */
function abbreviates(head: readonly string[], name: string): boolean {
  const parts = name.toLowerCase().split(/[ -]+/)
  let from = 0
  return head.every((word) => {
    const at = parts.findIndex((part, i) => i >= from && part.startsWith(word))
    from = at + 1
    return at >= 0
  })
}
