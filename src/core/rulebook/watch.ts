import { compileRulebook, expandSaved, type Program } from './compile'
import { longestRising } from './difference'
import { groupsIn } from './piece'
import type { Condition, Rule, Rulebook } from './rulebook'
import type { Rates } from '@/core/units'

/**
 * What tells quickly that a draft decides for an order as the edition does: only rules that differ can make a difference,
 * and only where one of them matches.
 */
export interface Watch {
  /** Rules of the draft that are new, changed or moved, made ready for matching. */
  readonly draft: Program
  /** Rules of the edition that are gone, changed or moved. */
  readonly edition: ReadonlySet<string>
}

/** Compares two rulebooks for `routeWatched`. Names do not count; switched-off rules are not there. */
export function watchFor(edition: Rulebook, draft: Rulebook, rates: Rates): Watch {
  const [before, after] = [meanings(edition), meanings(draft)]
  const kept = draft.rules.filter((rule) => after.has(rule.id) && before.get(rule.id) === after.get(rule.id))
  const place = new Map(edition.rules.map((rule, i) => [rule.id, i]))
  const stays = new Set([...longestRising(kept.map((rule) => place.get(rule.id)!))].map((i) => kept[i]!.id))
  return {
    draft: compileRulebook({ ...draft, rules: draft.rules.filter((rule) => rule.on && !stays.has(rule.id)) }, rates),
    edition: new Set(edition.rules.filter((rule) => rule.on && !stays.has(rule.id)).map((rule) => rule.id)),
  }
}

/** What each rule that is on says, with the saved conditions and groups it points to written out. */
function meanings(rulebook: Rulebook): Map<string, string> {
  const saved = new Map((rulebook.conditions ?? []).map((condition) => [condition.id, condition.when]))
  const members = (when: Condition): unknown => groupsIn(when).map((id) => rulebook.groups.find((group) => group.id === id)?.members ?? null)
  const meaning = ({ stage, from, until, finishStage, when, then }: Rule): string => {
    const full = expandSaved(when, saved)
    return JSON.stringify([stage, from, until, finishStage ?? false, full, members(full), then])
  }
  return new Map(rulebook.rules.filter((rule) => rule.on).map((rule) => [rule.id, meaning(rule)]))
}
