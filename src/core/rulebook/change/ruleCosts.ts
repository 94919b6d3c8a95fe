import { manyDecider, orderMemory } from '@/core/rulebook/bulk'
import { compileRulebook } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld, type World } from '@/core/world'
import { tallyAgainst } from './tallyTrial'
import { emptySummary, type TrialCase } from './trial'

/** What one rule does to some orders, against the same rulebook without it. */
export interface RuleCost {
  readonly rule: string
  /** Orders that are decided otherwise without it. */
  readonly changed: number
  /**
   * Minor units of the home currency that the labels would cost more without it; below 0 where the rule makes them
   * dearer.
   */
  readonly saves: number
  /** Orders that are late because of it, less those that would be late without it. */
  readonly late: number
  /** Orders that need a person because of it, less those that would need one without it. */
  readonly stuck: number
}

/** What each rule that is on does, one after another, so that others can be served in between. */
export function* ruleCosts(rulebook: Rulebook, world: World, cases: readonly TrialCase[]): Generator<RuleCost> {
  const memory = orderMemory(readyWorld(world))
  const decider = (rules: Rulebook) => manyDecider(compileRulebook(rules, world.rates), memory)
  const block = memory.read(cases)
  const whole = decider(rulebook)
  const before = whole.all(block)
  const flow = whole.flow()
  for (const { id, on } of rulebook.rules) {
    if (!on) continue
    const summary = emptySummary()
    // A rule that matches nothing changes nothing.
    if ((flow[id]?.matched ?? 0) > 0) {
      const rules = rulebook.rules.map((rule) => (rule.id === id ? { ...rule, on: false } : rule))
      tallyAgainst(summary, cases, before, decider({ ...rulebook, rules }), block)
    }
    yield {
      ...{ rule: id, changed: summary.changed, saves: summary.costDifference },
      ...{ late: summary.noLongerLate - summary.newlyLate, stuck: summary.noLongerStuck - summary.newlyStuck },
    }
  }
}
