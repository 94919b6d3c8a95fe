import { membersOf, isItemSum, isItemTest, isSaved, isTest, type Condition, type Rule, type Rulebook, type Stage } from './rulebook'
import { readRulebook, writeRulebook, type TextProblem } from './text'

/** Rules as text that stands by itself: with the groups and saved conditions they point to. */
export function copyRules(rulebook: Rulebook, ids: readonly string[]): string {
  const rules = rulebook.rules.filter((rule) => ids.includes(rule.id))
  const conditions = usedConditions(rules.map((rule) => rule.when), rulebook)
  const groups = new Set([...rules.map((rule) => rule.when), ...conditions.map((condition) => condition.when)].flatMap(groupsIn))
  return writeRulebook({ name: 'Copied rules', groups: rulebook.groups.filter((group) => groups.has(group.id)), ...(conditions.length > 0 ? { conditions } : {}), rules })
}

export type Pasted = { readonly ok: true; readonly rulebook: Rulebook; readonly ids: readonly string[] } | { readonly ok: false; readonly problems: readonly TextProblem[] }

/**
 * Puts rules from a text behind a rule (at the end of the stage when it is null), into that rule's stage. `newId` gives an
 * identifier for each; groups and saved conditions that the rulebook does not have come along.
 */
export function pasteRules(rulebook: Rulebook, text: string, stage: Stage, behind: string | null, newId: () => string): Pasted {
  const read = readRulebook(text)
  if (!read.ok) return read
  const rules = read.rulebook.rules.map((rule): Rule => ({ ...rule, id: newId(), stage, name: freeName(rule.name, rulebook) }))
  const missing = <T extends { readonly id: string }>(own: readonly T[], theirs: readonly T[]): readonly T[] => [...own, ...theirs.filter((entry) => !own.some((other) => other.id === entry.id))]
  const at = behind === null ? rulebook.rules.map((rule) => rule.stage).lastIndexOf(stage) : rulebook.rules.findIndex((rule) => rule.id === behind)
  const conditions = missing(rulebook.conditions ?? [], read.rulebook.conditions ?? [])
  return {
    ok: true, ids: rules.map((rule) => rule.id),
    rulebook: { ...rulebook, groups: missing(rulebook.groups, read.rulebook.groups), ...(conditions.length > 0 ? { conditions } : {}), rules: at < 0 ? [...rulebook.rules, ...rules] : [...rulebook.rules.slice(0, at + 1), ...rules, ...rulebook.rules.slice(at + 1)] },
  }
}

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

/** The rulebook with a rule at the end of another stage. */
export function withRuleIn(rulebook: Rulebook, id: string, stage: Stage): Rulebook {
  const rule = rulebook.rules.find((candidate) => candidate.id === id)
  if (!rule || rule.stage === stage) return rulebook
  const others = rulebook.rules.filter((candidate) => candidate !== rule)
  const last = others.map((other) => other.stage).lastIndexOf(stage)
  const at = last < 0 ? others.length : last + 1
  return { ...rulebook, rules: [...others.slice(0, at), { ...rule, stage }, ...others.slice(at)] }
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
  if (isTest(condition)) return Array.isArray(condition.value) ? (condition.value as readonly unknown[]).flatMap((entry) => (typeof entry === 'object' && entry !== null && 'group' in entry ? [String(entry.group)] : [])) : []
  return membersOf(condition).flatMap(groupsIn)
}
