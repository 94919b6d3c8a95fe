import type { Pins, Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { editionInForce, newestWorld, pinsOf } from '@/data'
import type { Application } from '../shared/application'

/**
 * What the browser needs to decide for an order by itself: the edition in force, the world, and the order's hand pins.
 */
export interface Deciding {
  readonly edition: number
  readonly rulebook: Rulebook
  readonly world: World
  readonly pins: Pins
}

export async function showDeciding(gharry: Application, order: number): Promise<Deciding | null> {
  const edition = await editionInForce(gharry.db, gharry.now().toISOString())
  const world = await newestWorld(gharry.db)
  if (!edition || !world) return null
  return {
    edition: edition.number,
    rulebook: edition.rulebook,
    world: { ...world.world, items: [] },
    pins: (await pinsOf(gharry.db, [order])).get(order) ?? {},
  }
}
