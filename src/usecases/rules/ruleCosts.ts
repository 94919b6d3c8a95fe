import { type RuleCost, ruleCosts } from '@/core/rulebook/change'
import { addJob, changeJob, fromJson, type JobRow, keepLease, newestDone } from '@/data'
import type { Application } from '../shared/application'
import { onceFor } from '../shared/dueSteps'
import { rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'
import { trialMaterial } from './trialMaterial'

/** Of so many days, and of at most so many orders: the youngest. */
const days = 30
const most = 4000

/** What each rule of an edition did to the orders of a month. */
export interface RuleCosts {
  readonly edition: number
  /** The seller's day on which it was worked out. */
  readonly day: string
  readonly days: number
  /** Orders that were decided with and without each rule, and how many there were. */
  readonly orders: number
  readonly available: number
  readonly rules: readonly RuleCost[]
}
/** The same with the names of the rules, what moves the most money first. */
export interface RuleCostsView extends Omit<RuleCosts, 'rules'> {
  readonly rules: readonly (RuleCost & { readonly name: string })[]
}

/** Once a day, each rule is held against the rulebook without it. */
export async function askRuleCosts(gharry: Application): Promise<void> {
  const day = await sellersDay(gharry, gharry.db)
  await onceFor(gharry, 'rule costs', day, () =>
    addJob(gharry.db, 'rule costs', `rule-costs-${day}`, { day }, gharry.now().toISOString()),
  )
}

/** Works it out, rule by rule; begins again where a worker was killed. */
export async function workRuleCosts(gharry: Application, job: JobRow): Promise<void> {
  const { db } = gharry
  const material = await trialMaterial(gharry, days, most)
  if (!material) return
  const { inForce, world, cases, edition, available } = material
  const total = inForce.rules.filter(({ on }) => on).length
  const rules: RuleCost[] = []
  for (const cost of ruleCosts(inForce, world, cases)) {
    rules.push(cost)
    await db.transaction(async (trx) => {
      await keepLease(trx, 'jobs', job, gharry.now(), gharry.settings.leaseSeconds)
      await changeJob(trx, job.id, { done: rules.length, total })
    })
    // Labels and posts go first.
    await new Promise((resolve) => setImmediate(resolve))
    if (gharry.stopping?.()) return
  }
  const { day } = fromJson<{ day: string }>(job.payload)
  const result: RuleCosts = { edition, day, days, orders: cases.length, available, rules }
  await changeJob(db, job.id, { result: JSON.stringify(result) })
}

/** What each rule did, as it was worked out last; null before the first night. */
export async function showRuleCosts(gharry: Application): Promise<{ costs: RuleCostsView | null }> {
  const job = await newestDone(gharry.db, 'rule costs')
  if (!job?.result) return { costs: null }
  const costs = fromJson<RuleCosts>(job.result)
  const rules = (await rulebookInForce(gharry))?.program.rulebook.rules ?? []
  const names = new Map(rules.map(({ id, name }) => [id, name]))
  return {
    costs: {
      ...costs,
      rules: costs.rules
        .map((cost) => ({ ...cost, name: names.get(cost.rule) ?? cost.rule }))
        .sort((a, b) => Math.abs(b.saves) - Math.abs(a.saves) || b.changed - a.changed),
    },
  }
}
