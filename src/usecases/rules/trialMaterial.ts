import { withoutPerson } from '@/core/address'
import { type OrderState, waitingStates } from '@/core/order'
import type { TrialCase } from '@/core/rulebook/change'
import type { Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { editionInForce, newestWorld, pinsOf, youngestOrders } from '@/data'
import type { Application } from '../shared/application'

/** What the browser needs to try a draft while it is typed: real orders, the world, and the edition in force. */
export interface TrialMaterial {
  readonly cases: readonly TrialCase[]
  /** How many orders the days hold; more than `cases` when only the youngest were taken. */
  readonly available: number
  readonly days: number
  readonly world: World
  readonly inForce: Rulebook
  readonly edition: number
}

/**
 * The youngest orders of the last days, waiting ones included. A past order is decided for the moment it was placed, a
 * waiting one for now.
 */
export async function trialMaterial(gharry: Application, days: number, most: number): Promise<TrialMaterial | null> {
  const { db } = gharry
  const edition = await editionInForce(db, gharry.now().toISOString())
  const world = await newestWorld(db)
  if (!edition || !world) return null
  const now = gharry.now().getTime()
  const since = new Date(now - days * 86_400_000).toISOString()
  const states: readonly OrderState[] = [...waitingStates, 'buying', 'labelled', 'dispatched', 'delivered']
  const { available, orders } = await youngestOrders(db, states, since, most)
  const pins = await pinsOf(
    db,
    orders.map(({ id }) => id),
  )
  const cases = orders.map(({ id, state, placedAt, order }): TrialCase => {
    const own = pins.get(id)
    return {
      id,
      order: withoutPerson(order),
      now: waitingStates.includes(state) ? now : Date.parse(placedAt),
      ...(own ? { pins: own } : {}),
    }
  })
  return {
    cases,
    available,
    days,
    world: { ...world.world, items: [] },
    inForce: edition.rulebook,
    edition: edition.number,
  }
}
