import { checkRulebook, findingSteps, type LogicFinding, newGaps, withoutWrong } from '@/core/rulebook/findings'
import type { Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'

export interface FindingsOrder {
  readonly run: number
  readonly draft: Rulebook
  readonly world: World
  readonly inForce: Rulebook
  readonly now: number
}
export interface FindingsAnswer {
  readonly run: number
  readonly findings: readonly LogicFinding[]
  readonly newGaps: readonly LogicFinding[]
  readonly ms: number
}

// Milliseconds after which it looks whether a newer draft has come.
const span = 15

let newest = 0
const turns = new MessageChannel()
const turn = (): Promise<void> =>
  new Promise((resolve) => {
    turns.port1.onmessage = () => resolve()
    turns.port2.postMessage(null)
  })

/*
 * Works out what the draft's rules mean together, beside the page. A newer draft ends the work on an older one: the
 * worker itself stays, as an engine that has been at it for a while is several times as fast as a new one.
 */
self.onmessage = async ({ data: { run, draft, world, inForce, now } }: MessageEvent<FindingsOrder>) => {
  newest = run
  const began = performance.now()
  const steps = findingSteps(withoutWrong(draft, checkRulebook(draft, world)), world, now)
  let looked = began
  let step = steps.next()
  for (; !step.done; step = steps.next()) {
    if (performance.now() - looked < span) continue
    await turn()
    if (newest !== run) return
    looked = performance.now()
  }
  self.postMessage({
    run,
    findings: step.value,
    newGaps: newGaps(step.value, inForce, world),
    ms: performance.now() - began,
  } satisfies FindingsAnswer)
}
