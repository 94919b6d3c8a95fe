import type { Trail } from './decisions'
import { stages, type Rulebook } from './rulebook'

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

export function flowCounter(rulebook: Rulebook): FlowCounter {
  const counts: Record<string, Flow> = {}
  for (const rule of rulebook.rules) counts[rule.id] = { came: 0, matched: 0, decided: 0 }
  const byStage = stages.map((stage) => ({ stage, rules: rulebook.rules.filter((rule) => rule.stage === stage && rule.on).map((rule) => rule.id) }))
  return {
    counts,
    add: (trail) => {
      const ended = new Map(trail.stages.map((stage) => [stage.stage, stage.finishedBy]))
      for (const { stage, rules } of byStage)
        for (const rule of rules) {
          counts[rule]!.came++
          if (ended.get(stage) === rule) break
        }
      for (const stage of trail.stages) for (const rule of stage.matched) counts[rule]!.matched++
      const deciding = new Set(trail.decisions.flatMap((entry) => (entry.by.kind === 'rule' ? [entry.by.rule] : entry.by.kind === 'rules' ? entry.parts.map((part) => part.rule) : [])))
      for (const rule of deciding) if (counts[rule]) counts[rule].decided++
    },
  }
}
