import { type DecisionId, type Decisions } from '@/core/rulebook/language'
import { differingIn, tally, type TrialCase, type TrialChange, type TrialSummary } from './trial'
import type { Decided, ManyDecider } from '@/core/rulebook/bulk'

/**
 * Decides orders by two deciders, of two rulebooks or in two worlds; adds to the summary, and gives the orders that
 * change.
 */
export function tallyMany(
  summary: TrialSummary,
  cases: readonly TrialCase[],
  before: ManyDecider,
  after: ManyDecider,
): TrialChange[] {
  const block = before.memory.read(cases)
  const read = after.memory === before.memory ? block : after.memory.read(cases)
  return tallyAgainst(summary, cases, before.all(block), after, read)
}

/** The same against what was decided before, of orders that are read already: for many rulebooks beside one. */
export function tallyAgainst(
  summary: TrialSummary,
  cases: readonly TrialCase[],
  before: readonly Decided[],
  after: ManyDecider,
  block: Parameters<ManyDecider['decide']>[0],
): TrialChange[] {
  const changes: TrialChange[] = []
  const differing = rememberedDifferences()
  after.decide(block, (i, next) => {
    const change = tally(summary, cases[i]!, before[i]!, next, differing)
    if (change) changes.push(change)
  })
  return changes
}

/** `differingIn`, worked out once for the same two: orders that are decided alike share one object. */
function rememberedDifferences(): typeof differingIn {
  const known = new Map<Decisions, Map<Decisions, readonly DecisionId[]>>()
  return (before, after) => {
    let others = known.get(before)
    if (!others) known.set(before, (others = new Map<Decisions, readonly DecisionId[]>()))
    let found = others.get(after)
    if (!found) others.set(after, (found = differingIn(before, after)))
    return found
  }
}
