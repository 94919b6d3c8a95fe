import { stages } from '@/core/rulebook'
import { pageOfOrders, pinsOf, writeFlow, type FlowCounts } from '@/data'
import type { Gharry } from './gharry'
import { decide } from './routeOrders'
import { rulebookInForce } from './rulebookInForce'

/**
 * Counts for each rule of the edition in force how many orders of the last 30 days came to it, matched it, and had a
 * decision made by it. The orders are run through the rules anew: the counts hold for today's rulebook, whatever
 * decided then.
 */
export async function countFlow(gharry: Gharry): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return
  const counts: Record<string, { came: number; matched: number; decided: number }> = {}
  for (const rule of inForce.rulebook.rules) counts[rule.id] = { came: 0, matched: 0, decided: 0 }
  const byStage = new Map(stages.map((stage) => [stage, inForce.rulebook.rules.filter((rule) => rule.stage === stage && rule.on).map((rule) => rule.id)]))
  const since = new Date(gharry.now().getTime() - 30 * 86_400_000).toISOString()
  for (let after = 0; ;) {
    const page = await pageOfOrders(gharry.db, ['attention', 'held', 'ready', 'buying', 'labelled', 'dispatched', 'delivered'], after, 500, since)
    if (page.length === 0) break
    const pins = await pinsOf(gharry.db, page.map(({ id }) => id))
    for (const { id, order } of page) {
      const { trail } = decide(order, inForce, gharry.now(), pins.get(id))
      const ended = new Map(trail.stages.map((stage) => [stage.stage, stage.finishedBy]))
      for (const stage of stages)
        for (const rule of byStage.get(stage)!) {
          counts[rule]!.came++
          if (ended.get(stage) === rule) break
        }
      for (const stage of trail.stages) for (const rule of stage.matched) counts[rule]!.matched++
      const deciding = new Set(trail.decisions.flatMap((entry) => (entry.by.kind === 'rule' ? [entry.by.rule] : entry.by.kind === 'rules' ? entry.parts.map((part) => part.rule) : [])))
      for (const rule of deciding) if (counts[rule]) counts[rule].decided++
    }
    after = page[page.length - 1]!.id
    await new Promise((resolve) => setImmediate(resolve))
  }
  await writeFlow(gharry.db, inForce.edition, counts satisfies FlowCounts, gharry.now().toISOString())
}
