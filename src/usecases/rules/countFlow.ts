import { flowCounter } from '@/core/rulebook/bulk'
import { pageOfOrders, pinsOf, writeFlow } from '@/data'
import type { Application } from '../shared/application'
import { decide } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'

/**
 * Counts for each rule of the edition in force how many orders of the last 30 days came to it, matched it, and had a
 * decision made by it. The orders are run through the rules anew: the counts hold for today's rulebook, whatever
 * decided then.
 */
export async function countFlow(gharry: Application): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return
  const counter = flowCounter(inForce.rulebook)
  const since = new Date(gharry.now().getTime() - 30 * 86_400_000).toISOString()
  for (let after = 0; ;) {
    const page = await pageOfOrders(
      gharry.db,
      ['attention', 'held', 'ready', 'buying', 'labelled', 'dispatched', 'delivered'],
      after,
      500,
      since,
    )
    if (page.length === 0) break
    const pins = await pinsOf(
      gharry.db,
      page.map(({ id }) => id),
    )
    for (const { id, order } of page) counter.add(decide(order, inForce, gharry.now(), pins.get(id)).trail)
    after = page[page.length - 1]!.id
    await new Promise((resolve) => setImmediate(resolve))
  }
  await writeFlow(gharry.db, inForce.edition, counter.counts, gharry.now().toISOString())
}
