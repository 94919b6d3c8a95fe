import type { Program } from '@/core/rulebook/compile'
import { type Trail, type Rulebook, type Stage, stages } from '@/core/rulebook/language'

/** How many orders came to a rule, matched it, and had a decision made by it. */
export interface Flow {
  came: number
  matched: number
  decided: number
}

/** Counts the flow through the rules of a rulebook, trail by trail. */
export interface FlowCounter {
  readonly add: (trail: Trail) => void
  readonly counts: Readonly<Record<string, Flow>>
}

/** Counts the flow through the rules from trails, one order after another. */
export function flowCounter(rulebook: Rulebook): FlowCounter {
  const flows: Record<string, Flow> = {}
  for (const rule of rulebook.rules) flows[rule.id] = { came: 0, matched: 0, decided: 0 }
  const byStage = stages.map((stage) => ({
    stage,
    rules: rulebook.rules.filter((rule) => rule.stage === stage && rule.on).map((rule) => rule.id),
  }))
  let orders = 0
  // Every order comes to every rule of a stage, but for those behind a rule that ended it.
  const ended = new Map<string, number>()
  return {
    get counts() {
      for (const { rules } of byStage) {
        let left = orders
        for (const rule of rules) {
          flows[rule]!.came = left
          left -= ended.get(rule) ?? 0
        }
      }
      return flows
    },
    add: (trail) => {
      orders++
      for (const { matched, finishedBy } of trail.stages) {
        if (finishedBy !== undefined) ended.set(finishedBy, (ended.get(finishedBy) ?? 0) + 1)
        for (const rule of matched) if (flows[rule]) flows[rule].matched++
      }
      for (const { by, parts } of trail.decisions) {
        if (by.kind === 'rule') addDeciding(by.rule)
        else if (by.kind === 'rules') for (const part of parts) addDeciding(part.rule)
      }
      for (const rule of deciding) if (flows[rule]) flows[rule].decided++
      deciding.clear()
    },
  }
}

/** What orders that are decided together came to: an outcome of a stage is the same for many of them. */
interface Outcomes {
  readonly outcomes: readonly {
    readonly matched: readonly string[]
    readonly finishedBy: string | undefined
    readonly deciding: readonly string[]
  }[]
  readonly ordersOf: (outcome: number) => number
}

/** The flow through the rules of a program from what its stages came to, and of some orders counted besides. */
export function flowOfMany(
  program: Program,
  besides: Readonly<Record<string, Flow>>,
  of: Readonly<Record<Stage, Outcomes>>,
): Readonly<Record<string, Flow>> {
  const flows = Object.fromEntries(Object.entries(besides).map(([rule, counts]) => [rule, { ...counts }]))
  for (const stage of stages) {
    const ended = new Map<string, number>()
    let left = 0
    for (const [number, { matched, finishedBy, deciding }] of of[stage].outcomes.entries()) {
      const orders = of[stage].ordersOf(number)
      left += orders
      if (finishedBy !== undefined) ended.set(finishedBy, (ended.get(finishedBy) ?? 0) + orders)
      for (const rule of matched) flows[rule]!.matched += orders
      for (const rule of deciding) flows[rule]!.decided += orders
    }
    for (const { rule } of program.stages[stage].rules) {
      flows[rule.id]!.came += left
      left -= ended.get(rule.id) ?? 0
    }
  }
  return flows
}

/** Adds the flow of other orders through the same rulebook. */
export function addFlow(into: Record<string, Flow>, more: Readonly<Record<string, Flow>>): void {
  for (const [rule, { came, matched, decided }] of Object.entries(more)) {
    const own = (into[rule] ??= { came: 0, matched: 0, decided: 0 })
    own.came += came
    own.matched += matched
    own.decided += decided
  }
}

/** The rules that decided something for the order at hand: each counts once. */
const deciding = new Set<string>()
const addDeciding = (rule: string): void => void deciding.add(rule)
