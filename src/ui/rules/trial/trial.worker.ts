import { compileRulebook, emptySummary, flowCounter, readyWorld, route, tally, type Flow, type Program, type ReadyWorld, type Routed, type Rulebook, type TrialCase, type TrialChange, type TrialSummary, type World } from '@/core/rulebook'

export type TrialOrder =
  | { readonly kind: 'material'; readonly cases: readonly TrialCase[]; readonly world: World; readonly inForce: Rulebook }
  | { readonly kind: 'draft'; readonly run: number; readonly draft: Rulebook }
  /** What another draft would change against the one tried last. */
  | { readonly kind: 'preview'; readonly run: number; readonly draft: Rulebook }

export type TrialAnswer =
  | { readonly kind: 'progress'; readonly run: number; readonly done: number; readonly of: number }
  | { readonly kind: 'preview'; readonly run: number; readonly summary: TrialSummary }
  | { readonly kind: 'result'; readonly run: number; readonly summary: TrialSummary; readonly changes: readonly TrialChange[]; readonly flow: Readonly<Record<string, Flow>>; readonly ms: number }

/*
 * Tries a draft on real orders beside the page, so that counts follow the typing. A newer draft ends the run of an
 * older one; what the edition in force decides is worked out once.
 */
let cases: readonly TrialCase[] = []
let ready: ReadyWorld | null = null
let standing: Program | null = null
let before: Routed[] = []
/** What the draft tried last decides; empty while it is being tried. */
let after: Routed[] = []
let newestPreview = 0
let newest = 0

const answer = (message: TrialAnswer): void => self.postMessage(message)
const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0))

self.onmessage = ({ data }: MessageEvent<TrialOrder>) => {
  if (data.kind === 'material') {
    cases = data.cases
    ready = readyWorld(data.world)
    standing = compileRulebook(data.inForce, data.world.rates)
    before = []
    after = []
  } else if (data.kind === 'preview') {
    newestPreview = data.run
    void preview(data.run, data.draft)
  } else {
    newest = data.run
    void run(data.run, data.draft)
  }
}

async function run(number: number, draft: Rulebook): Promise<void> {
  if (!ready || !standing) return
  const began = performance.now()
  const program = compileRulebook(draft, ready.world.rates)
  const decided: Routed[] = []
  after = []
  const counter = flowCounter(draft)
  const changes: TrialChange[] = []
  const summary = emptySummary()
  for (let i = 0; i < cases.length; i++) {
    const { order, now, pins } = cases[i]!
    const old = (before[i] ??= route(order, standing, ready, { now, pins }))
    const next = route(order, program, ready, { now, pins })
    counter.add(next.trail)
    decided.push(next)
    const change = tally(summary, cases[i]!, old, next)
    if (change) changes.push(change)
    if (i % 250 === 249) {
      if (i % 1000 === 999) answer({ kind: 'progress', run: number, done: i + 1, of: cases.length })
      await breathe()
      if (newest !== number) return
    }
  }
  after = decided
  answer({ kind: 'result', run: number, summary, changes, flow: counter.counts, ms: performance.now() - began })
}

async function preview(number: number, draft: Rulebook): Promise<void> {
  while (after.length < cases.length) {
    await new Promise((resolve) => setTimeout(resolve, 30))
    if (newestPreview !== number) return
  }
  if (!ready) return
  const program = compileRulebook(draft, ready.world.rates)
  const standing = after
  const summary = emptySummary()
  for (let i = 0; i < cases.length; i++) {
    const { order, now, pins } = cases[i]!
    tally(summary, cases[i]!, standing[i]!, route(order, program, ready, { now, pins }))
    if (i % 250 === 249) {
      await breathe()
      if (newestPreview !== number) return
    }
  }
  answer({ kind: 'preview', run: number, summary })
}
