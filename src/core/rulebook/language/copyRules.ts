import {
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  membersOf,
  type Rule,
  type Rulebook,
  type Stage,
} from './rulebook'
import { readRulebook, type TextProblem, writeRulebook } from './rulebookText'

/** Rules as text that stands by itself: with the groups and saved conditions they point to. */
export function copyRules(rulebook: Rulebook, ids: readonly string[]): string {
  const rules = rulebook.rules.filter((rule) => ids.includes(rule.id))
  const conditions = usedConditions(
    rules.map((rule) => rule.when),
    rulebook,
  )
  const groups = new Set(
    [...rules.map((rule) => rule.when), ...conditions.map((condition) => condition.when)].flatMap(groupsIn),
  )
  return writeRulebook({
    name: 'Copied rules',
    groups: rulebook.groups.filter((group) => groups.has(group.id)),
    ...(conditions.length > 0 ? { conditions } : {}),
    rules,
  })
}

export type Pasted =
  | { readonly ok: true; readonly rulebook: Rulebook; readonly ids: readonly string[] }
  | { readonly ok: false; readonly problems: readonly TextProblem[] }

/**
 * Puts rules from a text behind a rule (where a new one of the stage would go when it is null), into that rule's stage.
 * `newId` gives an identifier for each; groups and saved conditions that the rulebook does not have come along.
 */
export function pasteRules(
  rulebook: Rulebook,
  text: string,
  stage: Stage,
  behind: string | null,
  newId: () => string,
): Pasted {
  const read = readRulebook(text)
  if (!read.ok) return read
  const rules = read.rulebook.rules.map((rule): Rule => ({
    ...rule,
    id: newId(),
    stage,
    name: freeName(rule.name, rulebook),
  }))
  const missing = <T extends { readonly id: string }>(own: readonly T[], theirs: readonly T[]): readonly T[] => [
    ...own,
    ...theirs.filter((entry) => !own.some((other) => other.id === entry.id)),
  ]
  const over = rulebook.rules.findIndex((rule) => rule.id === behind)
  const conditions = missing(rulebook.conditions ?? [], read.rulebook.conditions ?? [])
  return {
    ok: true,
    ids: rules.map((rule) => rule.id),
    rulebook: withAt(
      {
        ...rulebook,
        groups: missing(rulebook.groups, read.rulebook.groups),
        ...(conditions.length > 0 ? { conditions } : {}),
      },
      over < 0 ? placeForNew(rulebook.rules, stage) : over + 1,
      rules,
    ),
  }
}

/**
 * Where a new rule of a stage goes: last, but above what takes every order at its end, as below that it could not act.
 */
function placeForNew(rules: readonly Rule[], stage: Stage): number {
  let at = rules.map((rule) => rule.stage).lastIndexOf(stage) + 1
  if (at === 0) return rules.length
  while (at > 0 && rules[at - 1]!.stage === stage && takesEverything(rules[at - 1]!)) at--
  return at
}

const takesEverything = ({ when, then, on, from, until }: Rule): boolean =>
  on && then.length > 0 && 'all' in when && when.all.length === 0 && from === undefined && until === undefined

const withAt = (rulebook: Rulebook, at: number, added: readonly Rule[]): Rulebook => ({
  ...rulebook,
  rules: [...rulebook.rules.slice(0, at), ...added, ...rulebook.rules.slice(at)],
})

/** The rulebook with a new rule in its stage. */
export const withNewRule = (rulebook: Rulebook, rule: Rule): Rulebook =>
  withAt(rulebook, placeForNew(rulebook.rules, rule.stage), [rule])

function freeName(name: string, { rules }: Rulebook): string {
  if (!rules.some((rule) => rule.name === name)) return name
  for (let n = 2; ; n++) if (!rules.some((rule) => rule.name === `${name} (${n})`)) return `${name} (${n})`
}

/** The rulebook with a rule at the place of another one of its stage; the same object when nothing moves. */
export function withRulePlaced(rulebook: Rulebook, id: string, over: string): Rulebook {
  const from = rulebook.rules.findIndex((rule) => rule.id === id)
  const to = rulebook.rules.findIndex((rule) => rule.id === over)
  if (from < 0 || to < 0 || from === to || rulebook.rules[from]!.stage !== rulebook.rules[to]!.stage) return rulebook
  const rules = [...rulebook.rules]
  rules.splice(to, 0, ...rules.splice(from, 1))
  return { ...rulebook, rules }
}

/** The rulebook with a rule in another stage, where a new one would go. */
export function withRuleIn(rulebook: Rulebook, id: string, stage: Stage): Rulebook {
  const rule = rulebook.rules.find((candidate) => candidate.id === id)
  if (!rule || rule.stage === stage) return rulebook
  return withNewRule(
    { ...rulebook, rules: rulebook.rules.filter((candidate) => candidate !== rule) },
    { ...rule, stage },
  )
}

function usedConditions(conditions: readonly Condition[], rulebook: Rulebook): NonNullable<Rulebook['conditions']> {
  const found = new Set<string>()
  const visit = (condition: Condition): void => {
    if (isSaved(condition)) {
      if (found.has(condition.saved)) return
      found.add(condition.saved)
      const saved = rulebook.conditions?.find((candidate) => candidate.id === condition.saved)
      if (saved) visit(saved.when)
    } else for (const member of membersOf(condition)) visit(member)
  }
  conditions.forEach(visit)
  return (rulebook.conditions ?? []).filter((condition) => found.has(condition.id))
}

/** The groups that a condition points to. */
export function groupsIn(condition: Condition): string[] {
  if (isItemTest(condition) || isItemSum(condition)) return groupsIn(condition.where)
  if (isTest(condition))
    return Array.isArray(condition.value)
      ? (condition.value as readonly unknown[]).flatMap((entry) =>
          typeof entry === 'object' && entry !== null && 'group' in entry ? [String(entry.group)] : [],
        )
      : []
  return membersOf(condition).flatMap(groupsIn)
}
