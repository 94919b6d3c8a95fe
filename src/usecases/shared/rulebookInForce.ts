import { compileRulebook, type Program } from '@/core/rulebook/compile'
import type { Rulebook } from '@/core/rulebook/language'
import { outagesNow, readyWorld, type ReadyWorld, worldAt } from '@/core/world'
import { editionInForce, newestWorld, versionsInForce } from '@/data'
import type { Application } from './application'
import { type StockNow, stockNow, withStock } from './stockInForce'

export interface InForce {
  readonly edition: number
  readonly worldVersion: number
  readonly rulebook: Rulebook
  readonly program: Program
  readonly ready: ReadyWorld
  /** What is switched off. */
  readonly outages: string
  /** As of which move of the stock. */
  readonly stock: number
}

/** Kept without the stock, which moves all day, and as it was last given out with it. */
const kept = new WeakMap<object, { readonly bare: InForce; readonly given: InForce }>()

/**
 * The edition in force with the newest world as it is now and what is in stock, compiled once and kept until either
 * changes, or an outage begins or ends. Null before there is any.
 */
export async function rulebookInForce(gharry: Pick<Application, 'db' | 'now'>): Promise<InForce | null> {
  // One moment for all of it: an outage may begin between two.
  const moment = gharry.now()
  const now = moment.toISOString()
  const versions = await versionsInForce(gharry.db, now)
  const stock = await stockNow(gharry.db)
  const before = kept.get(gharry.db)
  const world = await newestWorld(gharry.db)
  if (!world) return null
  const outages = outagesNow(world.world, moment.getTime())
  const { bare } = before ?? {}
  if (bare?.edition === versions.edition && bare.worldVersion === versions.world && bare.outages === outages)
    return before!.given.stock === stock.version ? before!.given : give(gharry.db, bare, stock)
  const edition = await editionInForce(gharry.db, now)
  if (!edition) return null
  const inForce: InForce = {
    edition: edition.number,
    worldVersion: world.version,
    rulebook: edition.rulebook,
    program: compileRulebook(edition.rulebook, world.world.rates),
    ready: readyWorld(worldAt(world.world, moment.getTime())),
    outages,
    stock: 0,
  }
  return give(gharry.db, inForce, stock)
}

/** With what is in stock now: all that is worked out from the rest of the world is the same. */
function give(db: object, bare: InForce, stock: StockNow): InForce {
  const { ready } = bare
  const given = { ...bare, stock: stock.version, ready: { ...ready, world: withStock(ready.world, stock) } }
  kept.set(db, { bare, given })
  return given
}
