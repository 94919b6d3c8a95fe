import { checkRulebook, findLogicOf, newGaps, type LogicFinding, type Rulebook, type World } from '@/core/rulebook'

export interface FindingsOrder { readonly run: number; readonly draft: Rulebook; readonly world: World; readonly inForce: Rulebook; readonly now: number }
export interface FindingsAnswer { readonly run: number; readonly findings: readonly LogicFinding[]; readonly newGaps: readonly LogicFinding[]; readonly ms: number }

/* Works out what the draft's rules mean together, beside the page. */
self.onmessage = ({ data: { run, draft, world, inForce, now } }: MessageEvent<FindingsOrder>) => {
  const began = performance.now()
  const findings = findLogicOf(draft, checkRulebook(draft, world), world, now)
  self.postMessage({ run, findings, newGaps: newGaps(findings, inForce, world), ms: performance.now() - began } satisfies FindingsAnswer)
}
