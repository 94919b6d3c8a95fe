import { minuteOf, readBoundary } from '@/core/calendar'
import { countryCode, foldText } from '@/core/order'
import { type Money, toHome } from '@/core/units'
import {
  decisionById,
  type DecisionKind,
  factById,
  type FactType,
  isTextual,
  itemFactById,
  itemSums,
  operatorsOf,
  nobody,
  originWays,
  takesList,
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  type ListEntry,
  membersOf,
  type Rule,
  type Rulebook,
  stageIndex,
  type Test,
  decisionValues,
  spanMs,
  weekdays,
} from '@/core/rulebook/language'
import { unreachableServices } from './unreachableServices'
import { type World, withoutRetired } from '@/core/world'

/** What the check says about one rule; an error keeps the draft from being published, a warning does not. */
export interface Finding {
  readonly severity: 'error' | 'warning'
  readonly code: string
  readonly rule: string
  readonly sentence: string
}

/** Checks a rulebook against the catalogue and the world. Empty when there is nothing to say. */
export function checkRulebook(rulebook: Rulebook, given: World): Finding[] {
  const world = withoutRetired(given)
  const findings: Finding[] = []
  const names = new Map<string, string>()
  const ids = new Set<string>()
  const conditionIds = new Set<string>()
  const groupIds = new Set<string>()
  for (const group of rulebook.groups) {
    if (groupIds.has(group.id))
      findings.push({
        severity: 'error',
        code: 'same-id',
        rule: '',
        sentence: `Two groups have the identifier "${group.id}".`,
      })
    groupIds.add(group.id)
    const odd =
      (group.kind ?? 'countries') === 'countries' ? group.members.find((member) => !isCountry(member)) : undefined
    if (odd !== undefined)
      findings.push({
        severity: 'warning',
        code: 'unknown-value',
        rule: '',
        sentence: `${countrySentence(odd)} It is in the group "${group.name}".`,
      })
  }
  for (const condition of rulebook.conditions ?? []) {
    if (conditionIds.has(condition.id))
      findings.push({
        severity: 'error',
        code: 'same-id',
        rule: '',
        sentence: `Two saved conditions have the identifier "${condition.id}".`,
      })
    conditionIds.add(condition.id)
  }
  for (const rule of rulebook.rules) {
    const say = (severity: Finding['severity'], code: string, sentence: string): void =>
      void findings.push({ severity, code, rule: rule.id, sentence })
    if (ids.has(rule.id)) say('error', 'same-id', `Two rules have the identifier "${rule.id}".`)
    ids.add(rule.id)
    const twin = names.get(rule.name)
    if (twin !== undefined) say('warning', 'same-name', `Another rule is called "${rule.name}" too.`)
    names.set(rule.name, rule.id)
    if (rule.from && rule.until && rule.from > rule.until)
      say('error', 'dates', `It ends (${rule.until}) before it begins (${rule.from}).`)
    if (rule.then.length === 0) say('warning', 'no-action', 'It does nothing: add an action.')
    checkCondition(rule.when, { stage: rule.stage, rulebook, world, say, seen: new Set() })
    for (const action of rule.then) checkAction(action, rule, world, say)
    // What has values of a wrong kind is corrected first.
    if (!findings.some((finding) => finding.rule === rule.id && finding.severity === 'error'))
      for (const { sentence } of unreachableServices(rule, rulebook, world)) say('warning', 'never-serves', sentence)
  }
  return findings
}

type Say = (severity: Finding['severity'], code: string, sentence: string) => void

interface Checking {
  readonly stage: Rule['stage']
  readonly rulebook: Rulebook
  readonly world: World
  readonly say: Say
  /** Saved conditions that were looked at, each once: in an item test or outside of one. */
  readonly seen: Set<string>
}

function checkCondition(
  condition: Condition,
  checking: Checking,
  inItem = false,
  within: readonly string[] = [],
): void {
  const { stage, rulebook, world, say, seen } = checking
  if (isSaved(condition)) {
    const saved = rulebook.conditions?.find((candidate) => candidate.id === condition.saved)
    if (!saved) say('error', 'unknown-condition', `There is no saved condition "${condition.saved}".`)
    else if (within.includes(saved.id)) say('error', 'cycle', `The saved condition "${saved.name}" contains itself.`)
    else if (!seen.has(`${String(inItem)} ${saved.id}`)) {
      checkCondition(saved.when, checking, inItem, [...within, saved.id])
      seen.add(`${String(inItem)} ${saved.id}`)
    }
  } else if (isItemSum(condition)) {
    if (inItem) say('error', 'nested-items', 'A sum over items cannot stand inside an item test.')
    checkCondition(condition.where, checking, true, within)
    checkTest(
      { fact: '', op: condition.op, value: condition.value },
      itemSums[condition.sum].name,
      itemSums[condition.sum].type,
      rulebook,
      world,
      say,
    )
  } else if (isItemTest(condition)) {
    if (inItem) say('error', 'nested-items', 'An item test cannot stand inside another one.')
    else checkCondition(condition.where, checking, true, within)
  } else if (isTest(condition)) {
    const fact = inItem ? itemFactById.get(condition.fact) : factById.get(condition.fact)
    if (!fact) return say('error', 'unknown-fact', `There is no ${inItem ? 'item fact' : 'fact'} "${condition.fact}".`)
    if ('settledBy' in fact && fact.settledBy && stageIndex(fact.settledBy) >= stageIndex(stage))
      say(
        'error',
        'not-settled',
        `"${fact.name}" is settled in ${fact.settledBy}; a rule of ${stage} cannot test it yet.`,
      )
    checkTest(condition, fact.name, fact.type, rulebook, world, say)
    for (const sentence of unknownNames(condition, fact.type, world)) say('warning', 'unknown-value', sentence)
    for (const value of fact.values ? namedValues(condition) : [])
      if (!fact.values!.some((known) => foldText(known) === foldText(value)))
        say('warning', 'unknown-value', `"${fact.name}" is never "${value}": it is ${fact.values!.join(', ')}.`)
  } else {
    const members = membersOf(condition)
    if ('any' in condition && members.length === 0)
      say('warning', 'empty-any', '"any of" with nothing in it never holds.')
    for (const member of members) checkCondition(member, checking, inItem, within)
  }
}

/** The values that a test compares with one by one. */
function namedValues({ op, value }: Test): string[] {
  if (op === 'is' || op === 'is not') return typeof value === 'string' ? [value] : []
  return (op === 'is one of' || op === 'is none of' || op === 'has any' || op === 'has all' || op === 'has none') &&
    Array.isArray(value)
    ? (value as readonly ListEntry[]).filter((entry) => typeof entry === 'string')
    : []
}

const isCountry = (text: string): boolean => countryCode(text) === text.trim().toUpperCase()

function countrySentence(text: string): string {
  const meant = countryCode(text)
  return `"${text.slice(0, 40)}" is no country code${meant ? `: write ${meant}.` : ' of two letters such as BE.'}`
}

/**
 * What a test names that the world does not have: it never holds, or always. A world without any of a kind says
 * nothing.
 */
function unknownNames(test: Test, type: FactType, world: World): string[] {
  const named = namedValues(test)
  if (type === 'country') return named.filter((value) => !isCountry(value)).map(countrySentence)
  const kinds: Readonly<Record<string, { readonly what: string; readonly list: readonly { readonly id: string }[] }>> =
    {
      location: { what: 'location', list: world.locations },
      'stocked at': { what: 'location', list: world.locations },
      service: { what: 'service', list: world.services },
      'runner-up': { what: 'service', list: world.services },
      carrier: { what: 'carrier', list: world.carriers },
      preset: { what: 'package preset', list: world.presets },
    }
  const kind = kinds[test.fact]
  if (!kind || kind.list.length === 0) return []
  const known = new Set(kind.list.map(({ id }) => foldText(id)))
  return named
    .filter((value) => !known.has(foldText(value)))
    .map(
      (value) =>
        `There is no ${kind.what} "${value.slice(0, 60)}": ${kind.list
          .slice(0, 8)
          .map(({ id }) => id)
          .join(', ')}${kind.list.length > 8 ? ' …' : ''}.`,
    )
}

function checkTest(test: Test, name: string, type: FactType, rulebook: Rulebook, world: World, say: Say): void {
  if (!operatorsOf[type].includes(test.op))
    return say('error', 'operator', `"${name}" is ${type} and does not understand "${test.op}".`)
  if (test.op === 'is missing' || test.op === 'is known') return
  if (type === 'time') return checkTime(test, name, say)
  if (takesList(test.op, type)) {
    const entries = Array.isArray(test.value) ? (test.value as readonly ListEntry[]) : []
    if (entries.length === 0) say('error', 'no-value', `"${name} ${test.op}" needs at least one value.`)
    for (const entry of entries)
      if (typeof entry === 'object' && !rulebook.groups.some((group) => group.id === entry.group))
        say('error', 'unknown-group', `There is no group "${entry.group}".`)
  } else if (isTextual(type)) {
    if (typeof test.value !== 'string' || test.value.trim() === '')
      say('error', 'no-value', `"${name} ${test.op}" needs a value.`)
  } else if (type === 'yes/no') {
    if (typeof test.value !== 'boolean') say('error', 'no-value', `"${name}" needs yes or no.`)
  } else {
    const pair = Array.isArray(test.value) && test.value.length === 2 ? test.value : [undefined, undefined]
    const ends = test.op === 'between' ? pair : [test.value]
    for (const end of ends) checkNumber(end, name, type, world, say)
    if (test.op === 'between' && size(ends[0]) > size(ends[1]))
      say('warning', 'between', `"${name} between": the first end is above the second, so it never holds.`)
  }
}

function checkTime(test: Test, name: string, say: Say): void {
  const { op, value } = test
  if (op === 'before' || op === 'after') {
    if (typeof value !== 'string' || readBoundary(value) === null)
      say('error', 'no-value', `"${name} ${op}" needs a day such as 2026-12-24.`)
  } else if (op === 'weekday is') {
    const known: readonly string[] = weekdays
    if (
      !Array.isArray(value) ||
      value.length === 0 ||
      value.some((day) => typeof day !== 'string' || !known.includes(day))
    )
      say('error', 'no-value', `"${name} weekday is" needs weekdays such as Thursday, Friday.`)
  } else if (op === 'time of day between') {
    if (
      !Array.isArray(value) ||
      value.length !== 2 ||
      value.some((clock) => typeof clock !== 'string' || minuteOf(clock) === null)
    )
      say('error', 'no-value', `"${name} time of day between" needs two times such as 12:00 and 23:59.`)
  } else if (spanMs(value) === null) say('error', 'no-value', `"${name} ${op}" needs a number of hours or days.`)
}

function checkNumber(value: unknown, name: string, type: FactType, world: World, say: Say): void {
  const isMoney = typeof value === 'object' && value !== null && 'minor' in value
  if (type === 'money') {
    if (!isMoney) say('error', 'no-value', `"${name}" needs an amount with a currency.`)
    else if (toHome(value as Money, world.rates) === null)
      say('error', 'no-rate', `There is no exchange rate for ${(value as Money).currency}.`)
  } else if (typeof value !== 'number' || !Number.isFinite(value))
    say('error', 'no-value', `"${name}" needs a ${type === 'number' ? 'number' : `${type} with its unit`}.`)
}

const size = (end: unknown): number => {
  if (typeof end === 'number') return end
  return typeof end === 'object' && end !== null && 'minor' in end ? Number(end.minor) : NaN
}

function checkAction(action: { set: string; to: unknown }, rule: Rule, world: World, say: Say): void {
  const kind = decisionById.get(action.set)
  if (!kind) return say('error', 'unknown-action', `There is no action "${action.set}".`)
  if (stageIndex(kind.stage) < stageIndex(rule.stage))
    say('error', 'too-late', `"${kind.verb}" belongs to ${kind.stage}; a rule of ${rule.stage} comes too late for it.`)
  const parsed = decisionValues[kind.type].safeParse(action.to)
  if (!parsed.success)
    return say(
      'error',
      'bad-value',
      `"${kind.verb}" ${parsed.error.issues[0]?.message ?? 'has a value of the wrong kind'}.`,
    )
  if (kind.id === 'reference')
    for (const sentence of oddPlaceholders(String(action.to))) say('error', 'placeholder', sentence)
  for (const missing of missingReferences(kind, action.to, world)) say('error', 'missing', missing)
}

const placeholders = ['{number}', '{channel}', '{sku}']

/** Braces in a label reference that are no placeholder: they would be printed as they are. */
export function oddPlaceholders(text: string): string[] {
  let rest = text
  for (const known of placeholders) rest = rest.split(known).join('')
  const at = rest.search(/[{}]/)
  return at < 0
    ? []
    : [`"${rest.slice(Math.max(0, at - 12), at + 14)}" is no placeholder: write ${placeholders.join(', ')}.`]
}

/** What a decision's value refers to and the world does not have; one sentence each. */
export function missingReferences(kind: DecisionKind, value: unknown, world: World): string[] {
  const known = (list: readonly { readonly id: string }[], id: unknown): boolean =>
    list.some((entry) => entry.id === id)
  switch (kind.type) {
    case 'preset':
      return known(world.presets, value) ? [] : [`The package preset "${String(value)}" does not exist.`]
    case 'location':
      return originWays.some((way) => way === value) || known(world.locations, value)
        ? []
        : [`The location "${String(value)}" does not exist.`]
    case 'slip':
      return known(world.slips, value) ? [] : [`The slip template "${String(value)}" does not exist.`]
    case 'partner':
      return value === nobody || known(world.partners ?? [], value)
        ? []
        : [`The partner "${String(value)}" does not exist.`]
    case 'slips':
      return (value as readonly string[])
        .filter((id) => !known(world.slips, id))
        .map((id) => `The slip template "${id}" does not exist.`)
    case 'services':
      return (value as readonly string[])
        .filter((id) => !known(world.services, id) && !known(world.carriers, id))
        .map((id) => `The service "${id}" does not exist.`)
    case 'picks':
      return (value as readonly { by: string; service?: string }[])
        .filter((pick) => pick.by === 'service' && !known(world.services, pick.service))
        .map((pick) => `The service "${pick.service ?? ''}" does not exist.`)
    case 'money':
      return toHome(value as Money, world.rates) === null
        ? [`There is no exchange rate for ${(value as Money).currency}.`]
        : []
    case 'insurance': {
      const insurance = value as { cover: string; amount?: Money }
      return insurance.amount && toHome(insurance.amount, world.rates) === null
        ? [`There is no exchange rate for ${insurance.amount.currency}.`]
        : []
    }
    default:
      return []
  }
}
