import { type OrderState, unshippedStates, waitingStates } from '@/core/order'
import { addFlow, type Flow, manyDecider, type ManyDecider, orderMemory } from '@/core/rulebook/bulk'
import {
  emptySummary,
  movedTo,
  tallyMany,
  type TrialCase,
  type TrialChange,
  type TrialSummary,
} from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld, type World } from '@/core/world'
import { pastOrders, type Database, type PastPart, type TrialScope } from '@/data'

/** What a trial runs over, and as of when. */
export interface TrialOptions {
  /** First and last day on which the orders were placed. */
  readonly from: string
  readonly until: string
  /** All channels when empty. */
  readonly channels: readonly string[]
  /** Every n-th order; 1 for all. */
  readonly everyNth: number
  /** As if the orders came in around this day; empty for their own days. */
  readonly asOf: string
}

/** A trial as it was asked for; it does not change with what is edited meanwhile. */
export interface TrialAsked extends TrialOptions {
  readonly draft: Rulebook
  readonly revision: number
  readonly against: Rulebook
  readonly edition: number
}

export interface PartResult {
  readonly summary: TrialSummary
  readonly changes: readonly TrialChange[]
}

/** Somebody who decides parts of a trial: this thread, or another. */
export interface TrialHand {
  readonly decide: (part: PastPart) => Promise<PartResult>
  /** The flow through the draft's rules of all orders that this hand decided. */
  readonly flow: () => Promise<Readonly<Record<string, Flow>>>
  readonly leave: () => Promise<void>
}

export const scopeOf = ({ from, until, channels }: TrialOptions): TrialScope => ({
  without: unshippedStates,
  from,
  until: `${until}T23:59:59.999Z`,
  channels,
})

/** So many different baskets or places are remembered; then all is forgotten, so that memory does not grow with a trial. */
const maxRemembered = 25_000

/** Decides parts of a trial in this thread; `now` is the moment for which waiting orders are decided. */
export function trialHand(
  db: Database,
  asked: TrialAsked,
  world: World,
  now: number,
  remembers = maxRemembered,
): TrialHand {
  const [ready, programs] = [
    readyWorld(world),
    [asked.against, asked.draft].map((rulebook) => compileRulebook(rulebook, world.rates)),
  ]
  const flow: Record<string, Flow> = {}
  let [before, after] = deciders()
  return {
    decide: async (part) => {
      const orders = (await pastOrders(db, scopeOf(asked), part)).filter(
        (_, i) => (part.before + i) % asked.everyNth === 0,
      )
      if (before.memory.size() > remembers) {
        addFlow(flow, after.flow())
        ;[before, after] = deciders()
      }
      const summary = emptySummary()
      return {
        summary,
        changes: tallyMany(
          summary,
          orders.map((one) => trialCaseOf(one, one.pins, asked, now)),
          before,
          after,
        ),
      }
    },
    flow: () => {
      const all = structuredClone(flow)
      addFlow(all, after.flow())
      return Promise.resolve(all)
    },
    leave: async () => {},
  }

  function deciders(): [ManyDecider, ManyDecider] {
    const memory = orderMemory(ready)
    return programs.map((program) => manyDecider(program, memory)) as [ManyDecider, ManyDecider]
  }
}

/**
 * A past order is decided for the moment it was placed, a waiting one for now; as of another day, both are moved
 * there.
 */
export function trialCaseOf(
  { id, order, state }: { id: number; order: TrialCase['order']; state: OrderState },
  pins: TrialCase['pins'],
  { asOf }: Pick<TrialOptions, 'asOf'>,
  now: number,
): TrialCase {
  const own: TrialCase = {
    id,
    order,
    now: waitingStates.includes(state) ? now : Date.parse(order.placedAt),
    ...(pins ? { pins } : {}),
  }
  return asOf === '' ? own : movedTo(own, now, Date.parse(`${asOf}T12:00:00Z`))
}
