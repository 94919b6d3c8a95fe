import { withoutPerson } from '@/core/address'
import { waitingStates } from '@/core/order'
import { manyDecider, type ManyDecider, orderMemory } from '@/core/rulebook/bulk'
import { emptySummary, tallyMany, type TrialCase, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import { emptyRulebook } from '@/core/rulebook/language'
import { readyWorld, type World, worldAt } from '@/core/world'
import { countWaiting, editionInForce, pageOfOrders, pinsOf } from '@/data'
import type { Application } from './application'

/** What another world would decide for the orders that wait. */
export interface WaitingEffect {
  /** All that wait; `summary.orders` of them were tried. */
  readonly waiting: number
  readonly summary: TrialSummary
  /** The orders that change, at most 300. */
  readonly changes: readonly TrialChange[]
}

// So many orders are decided before others are served.
const portion = 500
const mostTried = 5000
const mostShown = 300

/** Decides the waiting orders in two worlds as they are at a moment; nothing is written. */
export async function effectOnWaiting(
  gharry: Application,
  before: World,
  after: World,
  at: number,
): Promise<WaitingEffect> {
  const { db } = gharry
  const edition = await editionInForce(db, gharry.now().toISOString())
  const rulebook = edition?.rulebook ?? emptyRulebook
  const decider = (world: World): ManyDecider =>
    manyDecider(compileRulebook(rulebook, world.rates), orderMemory(readyWorld(worldAt(world, at))))
  const [old, next] = [decider(before), decider(after)]
  const summary = emptySummary()
  const changes: TrialChange[] = []
  for (let last = 0; summary.orders < mostTried;) {
    const page = await pageOfOrders(db, waitingStates, last, portion)
    if (page.length === 0) break
    last = page.at(-1)!.id
    const pins = await pinsOf(
      db,
      page.map(({ id }) => id),
    )
    const cases = page.map(({ id, order }): TrialCase => {
      const own = pins.get(id)
      return { id, order: withoutPerson(order), now: at, ...(own ? { pins: own } : {}) }
    })
    changes.push(...tallyMany(summary, cases, old, next))
    await new Promise((resolve) => setImmediate(resolve))
  }
  return { waiting: await countWaiting(db), summary, changes: changes.slice(0, mostShown) }
}
