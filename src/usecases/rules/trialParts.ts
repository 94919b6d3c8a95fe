import { type OrderState, waitingStates } from '@/core/order'
import { type Flow, manyDecider, orderMemory } from '@/core/rulebook/bulk'
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
import { ordersInRange, pinsOf, type Database, type OrderRange, type TrialScope } from '@/data'

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

/** A range of the orders of a trial; `before` are those that stand before it. */
export interface TrialPart extends OrderRange {
  readonly before: number
}

export interface PartResult {
  readonly summary: TrialSummary
  readonly changes: readonly TrialChange[]
}

/** Somebody who decides parts of a trial: this thread, or another. */
export interface TrialHand {
  readonly decide: (part: TrialPart) => Promise<PartResult>
  /** The flow through the draft's rules of all orders that this hand decided. */
  readonly flow: () => Promise<Readonly<Record<string, Flow>>>
  readonly leave: () => Promise<void>
}

/** Nobody ships these, or not by themselves: a trial leaves them out. */
const without: readonly OrderState[] = ['cancelled', 'fulfilled elsewhere', 'combined']
export const scopeOf = ({ from, until, channels }: TrialOptions): TrialScope => ({
  without,
  from,
  until: `${until}T23:59:59.999Z`,
  channels,
})

/** Decides parts of a trial in this thread; `now` is the moment for which waiting orders are decided. */
export function trialHand(db: Database, asked: TrialAsked, world: World, now: number): TrialHand {
  const memory = orderMemory(readyWorld(world))
  const [before, after] = [asked.against, asked.draft].map((rulebook) =>
    manyDecider(compileRulebook(rulebook, world.rates), memory),
  ) as [ReturnType<typeof manyDecider>, ReturnType<typeof manyDecider>]
  return {
    decide: async (part) => {
      const stored = (await ordersInRange(db, scopeOf(asked), part)).filter(
        (_, i) => (part.before + i) % asked.everyNth === 0,
      )
      const pins = await pinsOf(
        db,
        stored.map(({ id }) => id),
      )
      const summary = emptySummary()
      return {
        summary,
        changes: tallyMany(
          summary,
          stored.map((one) => trialCaseOf(one, pins.get(one.id), asked, now)),
          before,
          after,
        ),
      }
    },
    flow: () => Promise.resolve(after.flow()),
    leave: async () => {},
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
