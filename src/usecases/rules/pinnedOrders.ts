import { compileRulebook, type Program } from '@/core/rulebook/compile'
import { expectedOf, type PinnedResult, route, runPinned } from '@/core/rulebook/decide'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld, type ReadyWorld, type World } from '@/core/world'
import { addPinned, listPinned, newestWorld, ordersById, readDraft, removePinned, repin, type Database } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { decide } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'

/** How the pinned orders fare under a rulebook. */
export async function pinnedResults(db: Database, rulebook: Rulebook, world: World): Promise<PinnedResult[]> {
  const pinned = await listPinned(db)
  return pinned.length === 0 ? [] : runPinned(pinned, compileRulebook(rulebook, world.rates), readyWorld(world))
}

/** Pins an order as an example, with the outcome that the edition in force gives it now. */
export async function pinExample(gharry: Application, orderId: number, name: string): Promise<Answer<{ id: number }>> {
  const [stored] = await ordersById(gharry.db, [orderId])
  const inForce = await rulebookInForce(gharry)
  if (!stored) return refuse('unknown-order', 'There is no such order.')
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const now = gharry.now()
  const expected = expectedOf(decide(stored.order, inForce, now))
  return {
    ok: true,
    id: await addPinned(
      gharry.db,
      { name: name || stored.order.number, order: stored.order, now: now.getTime(), expected },
      gharry.settings.author,
      now.toISOString(),
    ),
  }
}

/** Takes what the draft decides for an example as the outcome it must have from now on; why must be said. */
export async function repinExample(gharry: Application, id: number, note: string): Promise<Answer<object>> {
  const engine = await draftEngine(gharry.db)
  const example = (await listPinned(gharry.db)).find((pinned) => pinned.id === id)
  if (!engine || !example) return refuse('unknown-example', 'There is no such pinned order.')
  await repin(gharry.db, id, expectedOf(route(example.order, engine.program, engine.ready, { now: example.now })), note)
  return { ok: true }
}

export async function unpinExample(gharry: Application, id: number): Promise<Answer<object>> {
  return (await removePinned(gharry.db, id))
    ? { ok: true }
    : refuse('unknown-example', 'There is no such pinned order.')
}

async function draftEngine(db: Database): Promise<{ program: Program; ready: ReadyWorld } | null> {
  const draft = await readDraft(db)
  const world = (await newestWorld(db))?.world
  return draft && world ? { program: compileRulebook(draft.rulebook, world.rates), ready: readyWorld(world) } : null
}
