import { plainText } from '@/core/order'
import { isDay } from '@/core/calendar'
import type { ParcelLimits } from '@/core/packing'
import { type DecimalSign, english, type Money, type Notation, parseLength, parseWeight } from '@/core/units'
import {
  decisionById,
  nobody,
  originWays,
  type Hold,
  type HoldUntil,
  type Insert,
  type Insurance,
} from './decisionKinds'
import { factById, type FactType, itemFactById, itemSums } from './facts'
import type { TrailEntry } from './outcome'
import {
  type Action,
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  type ListEntry,
  branchOf,
  membersOf,
  type Rule,
  type Test,
} from './rulebook'
import { spanPhrase, weekdays } from './moments'
import type { World } from '@/core/world'

/** Names of what rules refer to by identifier. */
export interface Wordings {
  readonly world: Only<World, 'presets' | 'locations' | 'services' | 'carriers' | 'slips' | 'rates' | 'partners'>
  readonly groups: readonly { readonly id: string; readonly name: string }[]
  readonly conditions?: readonly { readonly id: string; readonly name: string }[]
  /** Channels are no part of the world; without them they are called by their identifiers. */
  readonly channels?: readonly { readonly id: string; readonly name: string }[]
  /** How amounts and measures are written; without it, as in international English. */
  readonly notation?: Notation
}
type Only<T, K extends keyof T> = { readonly [P in K]: T[P] }

const nameIn = (list: readonly { readonly id: string; readonly name: string }[], id: string): string =>
  list.find((entry) => entry.id === id)?.name ?? `${id} (missing)`

/** A rule as one plain sentence: `When ship-to country is one of BE, NL, then pack in Box M.` */
export function ruleSentence(rule: Rule, words: Wordings): string {
  const when = conditionPhrase(rule.when, words)
  const then = rule.then.map((action) => actionPhrase(action, words)).join(', ') || 'do nothing'
  return `${when === '' ? 'For every order' : `When ${when}`}: ${then}.`
}

/** A condition in words; empty for the condition that always holds. */
export function conditionPhrase(condition: Condition, words: Wordings, inItem = false): string {
  if (isTest(condition)) return testPhrase(condition, words, inItem)
  if (isSaved(condition)) return nameIn(words.conditions ?? [], condition.saved)
  if (isItemSum(condition))
    return `${itemSums[condition.sum].name}${wherePhrase(condition.where, words)} ${condition.op} ${valuePhrase({ fact: '', op: condition.op, value: condition.value }, itemSums[condition.sum].type, words)}`
  if (isItemTest(condition)) return `${condition.items} item${wherePhrase(condition.where, words)}`
  const [joint, none] = joints[branchOf(condition)]
  const members = membersOf(condition)
  if (members.length === 0) return none
  const text = members.map((member) => bracket(member, words, inItem)).join(joint)
  return 'none' in condition ? `neither ${text}` : text
}

/** What stands between the members of a group of conditions, and what is said of an empty one. */
const joints = { all: [' and ', ''], any: [' or ', 'nothing'], none: [' nor ', ''] } as const

/** Which items; nothing where all are meant. */
function wherePhrase(where: Condition, words: Wordings): string {
  const text = bracket(where, words, true)
  return text === '' ? '' : ` where ${text}`
}

function bracket(condition: Condition, words: Wordings, inItem: boolean): string {
  const text = conditionPhrase(condition, words, inItem)
  return membersOf(condition).length > 1 ? `(${text})` : text
}

function testPhrase(test: Test, words: Wordings, inItem: boolean): string {
  const fact = inItem ? itemFactById.get(test.fact) : factById.get(test.fact)
  const value = valuePhrase(test, fact?.type ?? 'text', words)
  return `${fact?.name ?? `${test.fact} (unknown)`} ${test.op}${value === '' ? '' : ` ${value}`}`
}

/** The value of a test in words, with its unit. */
export function valuePhrase(test: Test, type: FactType, words: Wordings): string {
  const { value } = test
  if (value === undefined) return ''
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (test.op === 'time of day between' && Array.isArray(value)) return value.join(' and ')
  if (typeof value === 'object' && ('hours' in value || 'days' in value)) return spanPhrase(value)
  if (test.op === 'between' && Array.isArray(value))
    return value.map((end) => quantity(end as number | Money, type, words)).join(' and ')
  if (Array.isArray(value))
    return (value as readonly ListEntry[])
      .map((entry) => (typeof entry === 'string' ? nameOf(test.fact, entry, words) : nameIn(words.groups, entry.group)))
      .join(', ')
  return typeof value === 'string' ? nameOf(test.fact, value, words) : quantity(value as number | Money, type, words)
}

/** The things of the world that a fact names by identifier; none for facts whose values speak for themselves. */
export function thingsOf(
  fact: string,
  { world, channels = [] }: Wordings,
): readonly { readonly id: string; readonly name: string }[] {
  switch (fact) {
    case 'channel':
      return channels
    case 'preset':
      return world.presets
    case 'location':
    case 'stocked at':
      return world.locations
    case 'service':
    case 'runner-up':
      return world.services
    case 'carrier':
      return world.carriers
    default:
      return []
  }
}

/** A value of a fact as people call it: things of the world by their names, all else as it is. */
export const nameOf = (fact: string, value: string, words: Wordings): string =>
  thingsOf(fact, words).find(({ id }) => id === value)?.name ?? value

function quantity(value: number | Money, type: FactType, { notation = english }: Wordings): string {
  if (typeof value === 'object') return notation.money(value)
  if (type === 'weight') return notation.weight(value)
  return type === 'length' ? notation.length(value) : plainText(value)
}

/** An action in words: `pack in Box M`. */
export function actionPhrase(action: Action, words: Wordings): string {
  const kind = decisionById.get(action.set)
  return kind ? `${kind.verb} ${decisionPhrase(action.set, action.to, words)}` : `${action.set} (unknown)`
}

/** Who decided, in words; `several` is what is said where the wishes of several rules came together. */
export function deciderPhrase(by: TrailEntry['by'], ruleName: (id: string) => string, several: string): string {
  switch (by.kind) {
    case 'rule':
      return ruleName(by.rule)
    case 'rules':
      return several
    case 'pin':
      return 'pinned by hand'
    case 'wording table':
      return `wording table, “${by.wording}”`
    case 'default':
      return 'no rule: Gharry’s own way'
  }
}

/** A decision's value in words. */
export function decisionPhrase(decision: string, value: unknown, words: Wordings): string {
  const kind = decisionById.get(decision)
  if (value === null || value === undefined) return 'none'
  const { world, notation = english } = words
  switch (kind?.type) {
    case 'tags':
    case 'item tags':
    case 'needs':
    case 'steps':
      return (value as readonly string[]).join(', ')
    case 'limits':
      return limitsPhrase(value, notation)
    case 'grams':
      return `${Number(value) > 0 ? '+' : ''}${notation.weight(Number(value))}`
    case 'hold': {
      const hold = value as Hold
      return typeof hold === 'string' ? hold : `${hold.reason}, until ${untilPhrase(hold.until)}`
    }
    case 'ship day':
      return untilPhrase(value as HoldUntil)
    case 'size':
      return `${(value as readonly number[]).map((side) => notation.length(side)).join(' × ')}`
    case 'inserts':
      return (value as readonly Insert[])
        .map((insert) => `${insert.name} (${notation.weight(insert.weight)})`)
        .join(', ')
    case 'days':
      return `${plainText(value)} ${value === 1 ? 'day' : 'days'}`
    case 'money':
      return notation.money(value as Money)
    case 'moment':
      return value === 'dispatched' ? 'handed over' : 'bought'
    case 'preset':
      return nameIn(world.presets, plainText(value))
    case 'location':
      return originWays.some((way) => way === value)
        ? `the ${value === 'cheapest' ? 'cheapest location' : 'nearest location with stock'}`
        : nameIn(world.locations, plainText(value))
    case 'slip':
      return nameIn(world.slips, plainText(value))
    case 'partner':
      return value === nobody ? nobody : nameIn(world.partners ?? [], plainText(value))
    case 'slips':
      return (value as readonly string[]).map((id) => nameIn(world.slips, id)).join(', ')
    case 'yes/no':
      return value === true ? 'yes' : 'no'
    case 'insurance': {
      const insurance = value as Insurance
      if (insurance.cover === 'amount') return notation.money(insurance.amount)
      return insurance.cover === 'none' ? 'nothing' : 'the order value'
    }
    case 'services':
      return (value as readonly string[]).map((id) => nameIn([...world.services, ...world.carriers], id)).join(', ')
    case 'picks':
      return (value as readonly { by: string; service?: string }[])
        .map((pick) => pickPhrase(pick, words))
        .join(', else ')
    default:
      return plainText(value)
  }
}

/** One pick in words. */
export function pickPhrase(
  pick: { readonly by: string; readonly service?: string; readonly chance?: number },
  words: Wordings,
): string {
  switch (pick.by) {
    case 'service':
      return nameIn(words.world.services, pick.service ?? '')
    case 'cheapest':
      return 'the cheapest'
    case 'fastest':
      return 'the fastest'
    default:
      return `the cheapest that arrives by the promised day${pick.chance === undefined ? '' : ` with ${pick.chance} %`}`
  }
}

/** Limits of a parcel in words: `15 kg, 60 cm, 4 pieces`. */
export function limitsPhrase({ weight, longestSide, pieces }: ParcelLimits, notation = english): string {
  return [
    weight === undefined ? '' : notation.weight(weight),
    longestSide === undefined ? '' : notation.length(longestSide),
    pieces === undefined ? '' : `${pieces} ${pieces === 1 ? 'piece' : 'pieces'}`,
  ]
    .filter(Boolean)
    .join(', ')
}

/** Reads what limitsPhrase says. Undefined when a part is no weight, length or number of pieces. */
export function readLimits(text: string, decimal: DecimalSign = '.'): ParcelLimits | undefined {
  const limits: { -readonly [K in keyof ParcelLimits]: ParcelLimits[K] } = {}
  for (const part of text
    .split(/,(?!\d)|;|\band\b/)
    .map((piece) => piece.trim())
    .filter(Boolean)) {
    const pieces = /^(\d+)\s*(pieces?|pcs?|items?)$/i.exec(part)
    const weight = parseWeight(part, '', decimal)
    const length = parseLength(part, '', decimal)
    if (pieces) limits.pieces = Number(pieces[1])
    else if (weight !== null && weight > 0) limits.weight = weight
    else if (length !== null && length > 0) limits.longestSide = length
    else return undefined
  }
  return Object.keys(limits).length > 0 && limits.pieces !== 0 ? limits : undefined
}

/** The moment a hold ends, in words. */
export function untilPhrase(until: HoldUntil): string {
  if ('weekday' in until) return until.weekday
  if ('day' in until) return until.day
  return `${spanPhrase(until)} after the order`
}

/** Reads what untilPhrase says: `Monday`, `2026-12-24`, `36 hours`, `2 days`. Undefined when it is none of these. */
export function readUntil(text: string): HoldUntil | undefined {
  const whole = text.trim().toLowerCase()
  const plain = whole.endsWith(' after the order') ? whole.slice(0, -' after the order'.length).trim() : whole
  const weekday = weekdays.find((name) => name.toLowerCase() === plain)
  if (weekday) return { weekday }
  if (isDay(plain)) return { day: plain }
  const span = /^(\d+(?:\.\d+)?)\s*(hours?|days?|h|d)$/.exec(plain)
  if (!span || Number(span[1]) <= 0) return undefined
  return span[2]!.startsWith('h') ? { hours: Number(span[1]) } : { days: Number(span[1]) }
}
