import {
  type Decided,
  type Flow,
  manyDecider,
  type ManyDecider,
  type OrderBlock,
  orderMemory,
  type OrderMemory,
} from '@/core/rulebook/bulk'
import { emptySummary, tally, type TrialCase, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld, type World } from '@/core/world'

export type TrialOrder =
  | {
      readonly kind: 'material'
      readonly cases: readonly TrialCase[]
      readonly world: World
      readonly inForce: Rulebook
    }
  | { readonly kind: 'draft'; readonly run: number; readonly draft: Rulebook }
  /** What another draft would change against the one tried last. */
  | { readonly kind: 'preview'; readonly run: number; readonly draft: Rulebook }

export type TrialAnswer =
  | { readonly kind: 'progress'; readonly run: number; readonly done: number; readonly of: number }
  | { readonly kind: 'preview'; readonly run: number; readonly summary: TrialSummary }
  | {
      readonly kind: 'result'
      readonly run: number
      readonly summary: TrialSummary
      readonly changes: readonly TrialChange[]
      readonly flow: Readonly<Record<string, Flow>>
      readonly ms: number
    }

/*
 * Tries a draft on real orders beside the page, so that counts follow the typing. A newer draft ends the run of an
 * older one; what the edition in force decides is worked out once.
 */
let cases: readonly TrialCase[] = []
let memory: OrderMemory | null = null
/** The orders in portions, with what the edition in force decides for them. */
let portions: {
  readonly block: OrderBlock
  readonly cases: readonly TrialCase[]
  readonly before: readonly Decided[]
}[] = []
let standing: ManyDecider | null = null
/** What the draft tried last decides, by portion; shorter while it is being tried. */
let after: (readonly Decided[])[] = []
let newestPreview = 0
let newest = 0
// So many orders are decided before a newer draft is looked for.
const portion = 500

const answer = (message: TrialAnswer): void => self.postMessage(message)
const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0))

self.onmessage = ({ data }: MessageEvent<TrialOrder>) => {
  if (data.kind === 'material') {
    cases = data.cases
    memory = orderMemory(readyWorld(data.world))
    standing = manyDecider(compileRulebook(data.inForce, data.world.rates), memory)
    portions = []
    after = []
  } else if (data.kind === 'preview') {
    newestPreview = data.run
    void preview(data.run, data.draft)
  } else {
    newest = data.run
    void run(data.run, data.draft)
  }
}

const portionCount = (): number => Math.ceil(cases.length / portion)

/** A portion of the orders, read and decided by the edition when it is first asked for. */
function portionAt(k: number): (typeof portions)[number] {
  if (!portions[k]) {
    const own = cases.slice(k * portion, (k + 1) * portion)
    const block = memory!.read(own)
    portions[k] = { block, cases: own, before: standing!.all(block) }
  }
  return portions[k]
}

async function run(number: number, draft: Rulebook): Promise<void> {
  if (!memory) return
  const began = performance.now()
  const decider = manyDecider(compileRulebook(draft, memory.ready.world.rates), memory)
  const decided: (readonly Decided[])[] = []
  after = []
  const changes: TrialChange[] = []
  const summary = emptySummary()
  for (let k = 0; k < portionCount(); k++) {
    const { block, cases: own, before } = portionAt(k)
    const next = decider.all(block)
    decided.push(next)
    next.forEach((one, i) => {
      const change = tally(summary, own[i]!, before[i]!, one)
      if (change) changes.push(change)
    })
    if (k % 2 === 1) answer({ kind: 'progress', run: number, done: summary.orders, of: cases.length })
    await breathe()
    if (newest !== number) return
  }
  after = decided
  answer({ kind: 'result', run: number, summary, changes, flow: decider.flow(), ms: performance.now() - began })
}

async function preview(number: number, draft: Rulebook): Promise<void> {
  while (after.length < portionCount()) {
    await new Promise((resolve) => setTimeout(resolve, 30))
    if (newestPreview !== number) return
  }
  if (!memory) return
  const decider = manyDecider(compileRulebook(draft, memory.ready.world.rates), memory)
  const standing = after
  const summary = emptySummary()
  for (let k = 0; k < portionCount(); k++) {
    const { block, cases: own } = portionAt(k)
    decider.decide(block, (i, next) => void tally(summary, own[i]!, standing[k]![i]!, next))
    await breathe()
    if (newestPreview !== number) return
  }
  answer({ kind: 'preview', run: number, summary })
}
