import {
  equalJson,
  type Rule,
  type Rulebook,
  conditionPhrase,
  ruleSentence,
  type Wordings,
} from '@/core/rulebook/language'
import { partDifferences } from './ruleDifference'

/** One thing that differs between two rulebooks, as a sentence a person can read. */
export interface Difference {
  readonly kind: 'added' | 'deleted' | 'changed' | 'moved' | 'switched'
  readonly sentence: string
}

/**
 * What a rulebook changes against an older one: groups and saved conditions first, then rules in their order. Empty
 * when nothing does.
 */
export function rulebookDifference(older: Rulebook, newer: Rulebook, world: Wordings['world']): Difference[] {
  const before: Wordings = { world, groups: older.groups, conditions: older.conditions ?? [] }
  const after: Wordings = { world, groups: newer.groups, conditions: newer.conditions ?? [] }
  return [
    ...groupDifferences(older, newer),
    ...conditionDifferences(older, newer, before, after),
    ...ruleDifferences(older, newer, before, after),
  ]
}

function groupDifferences(older: Rulebook, newer: Rulebook): Difference[] {
  return listDifferences(older.groups, newer.groups, 'Group', (a, b) => {
    const added = b.members.filter((member) => !a.members.includes(member))
    const gone = a.members.filter((member) => !b.members.includes(member))
    const parts = [
      added.length > 0 ? `gains ${added.slice(0, 12).join(', ')}${added.length > 12 ? ' …' : ''}` : '',
      gone.length > 0 ? `loses ${gone.slice(0, 12).join(', ')}${gone.length > 12 ? ' …' : ''}` : '',
      a.name === b.name ? '' : `is now called "${b.name}"`,
    ].filter(Boolean)
    return parts.length > 0 ? `Group "${a.name}" ${parts.join(' and ')}` : null
  })
}

function conditionDifferences(older: Rulebook, newer: Rulebook, before: Wordings, after: Wordings): Difference[] {
  return listDifferences(older.conditions ?? [], newer.conditions ?? [], 'Saved condition', (a, b) =>
    equalJson(a, b)
      ? null
      : `Saved condition "${b.name}": ${conditionPhrase(a.when, before) || 'always'} → ${conditionPhrase(b.when, after) || 'always'}`,
  )
}

function ruleDifferences(older: Rulebook, newer: Rulebook, before: Wordings, after: Wordings): Difference[] {
  const found: Difference[] = []
  const old = new Map(older.rules.map((rule) => [rule.id, rule]))
  for (const rule of newer.rules) {
    const was = old.get(rule.id)
    if (!was)
      found.push({ kind: 'added', sentence: `New in ${rule.stage}: "${rule.name}". ${ruleSentence(rule, after)}` })
    else found.push(...oneRule(was, rule, before, after))
  }
  for (const rule of older.rules)
    if (!newer.rules.some((other) => other.id === rule.id))
      found.push({ kind: 'deleted', sentence: `Deleted from ${rule.stage}: "${rule.name}"` })
  return [...found, ...moves(older, newer)]
}

function oneRule(was: Rule, rule: Rule, before: Wordings, after: Wordings): Difference[] {
  const found: Difference[] = []
  if (was.name !== rule.name) found.push({ kind: 'changed', sentence: `"${was.name}" is now called "${rule.name}"` })
  if (was.on !== rule.on)
    found.push({ kind: 'switched', sentence: `"${rule.name}" is switched ${rule.on ? 'on' : 'off'}` })
  if (was.stage !== rule.stage)
    found.push({ kind: 'moved', sentence: `"${rule.name}" moves from ${was.stage} to ${rule.stage}` })
  if ((was.finishStage ?? false) !== (rule.finishStage ?? false))
    found.push({
      kind: 'changed',
      sentence: `"${rule.name}" ${rule.finishStage ? 'ends its stage now' : 'does not end its stage any more'}`,
    })
  if (was.from !== rule.from || was.until !== rule.until)
    found.push({
      kind: 'changed',
      sentence: `"${rule.name}" takes part ${datesPhrase(rule)}`,
    })
  return [
    ...found,
    ...partDifferences(was, rule, before, after).map((sentence) => ({ kind: 'changed' as const, sentence })),
  ]
}

function datesPhrase({ from, until }: Rule): string {
  if (!from && !until) return 'always'
  if (!from) return `until ${until}`
  return until ? `from ${from} until ${until}` : `from ${from} on`
}

/** Rules that stand before others now; the fewest that explain the new order (those outside a longest common run). */
function moves(older: Rulebook, newer: Rulebook): Difference[] {
  const place = new Map(older.rules.map((rule, i) => [rule.id, i]))
  const kept = newer.rules.filter((rule) =>
    older.rules.some((other) => other.id === rule.id && other.stage === rule.stage),
  )
  const stays = longestRising(kept.map((rule) => place.get(rule.id)!))
  return kept.flatMap((rule, i): Difference[] => {
    if (stays.has(i)) return []
    const above = newer.rules
      .slice(0, newer.rules.indexOf(rule))
      .filter((other) => other.stage === rule.stage)
      .pop()
    return [
      {
        kind: 'moved',
        sentence: `"${rule.name}" moves ${above ? `below "${above.name}"` : `to the top of ${rule.stage}`}`,
      },
    ]
  })
}

/** Indices of a longest rising subsequence (patience sorting). */
export function longestRising(numbers: readonly number[]): Set<number> {
  const piles: number[] = []
  const previous: number[] = []
  numbers.forEach((number, i) => {
    let low = 0
    let high = piles.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (numbers[piles[middle]!]! < number) low = middle + 1
      else high = middle
    }
    previous[i] = low > 0 ? piles[low - 1]! : -1
    piles[low] = i
  })
  const found = new Set<number>()
  for (let at = piles[piles.length - 1] ?? -1; at >= 0; at = previous[at]!) found.add(at)
  return found
}

function listDifferences<T extends { readonly id: string; readonly name: string }>(
  older: readonly T[],
  newer: readonly T[],
  what: string,
  compare: (a: T, b: T) => string | null,
): Difference[] {
  const found: Difference[] = []
  for (const entry of newer) {
    const was = older.find((other) => other.id === entry.id)
    const sentence = was && compare(was, entry)
    if (!was) found.push({ kind: 'added', sentence: `New: ${what.toLowerCase()} "${entry.name}"` })
    else if (sentence) found.push({ kind: 'changed', sentence })
  }
  for (const entry of older)
    if (!newer.some((other) => other.id === entry.id))
      found.push({ kind: 'deleted', sentence: `Deleted: ${what.toLowerCase()} "${entry.name}"` })
  return found
}
