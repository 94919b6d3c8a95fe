import { tally, type TrialCase, type TrialChange, type TrialSummary } from '../trial'
import type { ManyDecider } from './decide'

/** Decides orders by two deciders, of two rulebooks or in two worlds; adds to the summary, and gives the orders that change. */
export function tallyMany(summary: TrialSummary, cases: readonly TrialCase[], before: ManyDecider, after: ManyDecider): TrialChange[] {
  const changes: TrialChange[] = []
  const block = before.memory.read(cases)
  const old = before.all(block)
  after.decide(after.memory === before.memory ? block : after.memory.read(cases), (i, next) => {
    const change = tally(summary, cases[i]!, old[i]!, next)
    if (change) changes.push(change)
  })
  return changes
}
