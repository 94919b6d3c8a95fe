import { compileRulebook, type Program } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { outagesNow, readyWorld, type ReadyWorld, worldAt } from '@/core/world'
import { editionInForce, newestWorld, versionsInForce } from '@/data'
import type { Application } from './application'

export interface InForce {
  readonly edition: number
  readonly worldVersion: number
  readonly rulebook: Rulebook
  readonly program: Program
  readonly ready: ReadyWorld
  /** What is switched off. */
  readonly outages: string
}

const kept = new WeakMap<object, InForce>()

/**
 * The edition in force with the newest world as it is now, compiled once and kept until either changes, or an outage begins
 * or ends. Null before there is any.
 */
export async function rulebookInForce(gharry: Application): Promise<InForce | null> {
  // One moment for all of it: an outage may begin between two.
  const moment = gharry.now()
  const now = moment.toISOString()
  const versions = await versionsInForce(gharry.db, now)
  const before = kept.get(gharry.db)
  const world = await newestWorld(gharry.db)
  if (!world) return null
  const outages = outagesNow(world.world, moment.getTime())
  if (before?.edition === versions.edition && before.worldVersion === versions.world && before.outages === outages)
    return before
  const edition = await editionInForce(gharry.db, now)
  if (!edition) return null
  const inForce: InForce = {
    edition: edition.number,
    worldVersion: world.version,
    rulebook: edition.rulebook,
    program: compileRulebook(edition.rulebook, world.world.rates),
    ready: readyWorld(worldAt(world.world, moment.getTime())),
    outages,
  }
  kept.set(gharry.db, inForce)
  return inForce
}
