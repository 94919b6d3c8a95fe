import { compileRulebook, type Program } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld, type ReadyWorld } from '@/core/world'
import { editionInForce, newestWorld, versionsInForce } from '@/data'
import type { Application } from './application'

export interface InForce {
  readonly edition: number
  readonly worldVersion: number
  readonly rulebook: Rulebook
  readonly program: Program
  readonly ready: ReadyWorld
}

const kept = new WeakMap<object, InForce>()

/**
 * The edition in force with the newest world, compiled once and kept until either changes. Null before there is any.
 */
export async function rulebookInForce(gharry: Application): Promise<InForce | null> {
  const now = gharry.now().toISOString()
  const versions = await versionsInForce(gharry.db, now)
  const before = kept.get(gharry.db)
  if (before && before.edition === versions.edition && before.worldVersion === versions.world) return before
  const edition = await editionInForce(gharry.db, now)
  const world = await newestWorld(gharry.db)
  if (!edition || !world) return null
  const inForce: InForce = {
    edition: edition.number,
    worldVersion: world.version,
    rulebook: edition.rulebook,
    program: compileRulebook(edition.rulebook, world.world.rates),
    ready: readyWorld(world.world),
  }
  kept.set(gharry.db, inForce)
  return inForce
}
