import type { Money } from '@/core/units'
import {
  decisionById,
  factById,
  equalJson,
  type Action,
  type Condition,
  isTest,
  type ListEntry,
  type Rule,
  type Test,
  actionPhrase,
  conditionPhrase,
  decisionPhrase,
  ruleSentence,
  valuePhrase,
  type Wordings,
} from '@/core/rulebook/language'

/** Past so many parts, the whole sentence says it better. */
const maxParts = 4

/**
 * What became of the conditions and actions of a rule, part by part: `raises the limit of weight of the items from 4 kg
 * to 5.5 kg`. Where that would be a long list, or nothing but the order differs, the sentence as it was and as it is.
 * Empty when nothing differs.
 */
export function partDifferences(was: Rule, rule: Rule, before: Wordings, after: Wordings): string[] {
  if (equalJson([was.when, was.then], [rule.when, rule.then])) return []
  const parts = [
    ...conditionParts(was.when, rule.when, before, after),
    ...actionParts(was.then, rule.then, before, after),
  ]
  return parts.length > 0 && parts.length <= maxParts
    ? parts.map((part) => `"${rule.name}" ${part}`)
    : [`"${rule.name}": ${ruleSentence(was, before)} → ${ruleSentence(rule, after)}`]
}

/** What must all hold; anything else is one part. */
const partsOf = (condition: Condition): readonly Condition[] => ('all' in condition ? condition.all : [condition])

const without = <T>(list: readonly T[], others: readonly T[]): T[] =>
  list.filter((one) => !others.some((other) => equalJson(one, other)))

function conditionParts(was: Condition, now: Condition, before: Wordings, after: Wordings): string[] {
  const gone = without(partsOf(was), partsOf(now))
  const come = without(partsOf(now), partsOf(was))
  const said: string[] = []
  for (const one of come) {
    const at = gone.findIndex((other) => isTest(one) && isTest(other) && other.fact === one.fact)
    const [old] = at >= 0 ? gone.splice(at, 1) : []
    said.push(old ? oneTest(old as Test, one as Test, before, after) : `also asks: ${conditionPhrase(one, after)}`)
  }
  return [...said, ...gone.map((one) => `no longer asks: ${conditionPhrase(one, before)}`)]
}

function oneTest(was: Test, now: Test, before: Wordings, after: Wordings): string {
  const fact = factById.get(now.fact)
  const [old, own] = [sizeOf(was.value), sizeOf(now.value)]
  if (fact && was.op === now.op && /^[<≤>≥]$/.test(now.op) && old && own && old.unit === own.unit)
    return `${own.size > old.size ? 'raises' : 'lowers'} the limit of ${fact.name} from ${valuePhrase(was, fact.type, before)} to ${valuePhrase(now, fact.type, after)}`
  if (
    fact &&
    was.op === now.op &&
    Array.isArray(was.value) &&
    Array.isArray(now.value) &&
    now.op !== 'between' &&
    now.op !== 'time of day between'
  ) {
    const [earlier, later] = [was.value as readonly ListEntry[], now.value as readonly ListEntry[]]
    const entries = (verb: string, list: readonly ListEntry[], words: Wordings): string =>
      list.length === 0 ? '' : `${verb} ${valuePhrase({ ...now, value: list }, fact.type, words)}`
    const moved = [
      entries('gains', without(later, earlier), after),
      entries('loses', without(earlier, later), before),
    ].filter(Boolean)
    if (moved.length > 0) return `asks for other values: “${fact.name} ${now.op}” ${moved.join(' and ')}`
  }
  return `asks ${conditionPhrase(now, after)}, not ${conditionPhrase(was, before)}`
}

/** A number, or an amount, that a limit can be raised from. */
function sizeOf(value: unknown): { size: number; unit: string } | null {
  if (typeof value === 'number') return { size: value, unit: '' }
  return typeof value === 'object' && value !== null && 'minor' in value
    ? { size: (value as Money).minor, unit: (value as Money).currency }
    : null
}

function actionParts(was: readonly Action[], now: readonly Action[], before: Wordings, after: Wordings): string[] {
  const gone = without(was, now)
  const said: string[] = []
  for (const one of without(now, was)) {
    const at = gone.findIndex((other) => other.set === one.set)
    const [old] = at >= 0 ? gone.splice(at, 1) : []
    const verb = decisionById.get(one.set)?.verb ?? one.set
    said.push(
      old
        ? `will ${verb} ${decisionPhrase(one.set, one.to, after)}; it was ${decisionPhrase(old.set, old.to, before)}`
        : `will also ${actionPhrase(one, after)}`,
    )
  }
  return [...said, ...gone.map((one) => `will no longer ${actionPhrase(one, before)}`)]
}
