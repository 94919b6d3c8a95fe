import { homeCurrency } from '../shared/homeCurrency'
import { randomUUID } from 'node:crypto'
import type { Order } from '@/core/order'
import { formatMoney, money } from '@/core/units'
import {
  addBatch,
  type Database,
  nameBatch,
  orderRows,
  ordersById,
  pinsOf,
  setState,
  versionsInForce,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { freshToken } from '../shared/freshId'
import { stockKeepers, stockTaker } from '../shared/stockInForce'
import { basisOf, type BatchPlan, planBatch } from './planBatch'
import { holdForBatch } from './stock/holdForLabels'

const largestBatch = 5000

/**
 * A label that the carrier has and the books do not: asked for under its own key once more, it is told, and not bought.
 */
export interface FoundLabel {
  readonly key: string
  readonly account: string
  readonly carrier: string
  readonly service: string
}
/** By order; with the numbers of those orders. */
export interface FoundLabels {
  readonly found: ReadonlyMap<number, FoundLabel>
  readonly taking: ReadonlySet<string>
}

/**
 * Confirms a batch: one queued label for each order, each with its own idempotency key, in one transaction with the
 * orders' new state. From here on the worker buys; nothing is lost or bought twice whatever dies.
 * `expected` is the total the person saw; if it has moved, they are asked again. Above the day's ceiling an
 * `approval`, a reason, is needed. A wave gives the batch its name, and says until when it leaves. `found` are labels
 * of these orders that are bought already.
 */
export async function buyBatch(
  gharry: Application,
  ids: readonly number[],
  expected: number,
  approval = '',
  wave: { readonly name: string; readonly leavesBy: string | null } | null = null,
  { found, taking }: FoundLabels = { found: new Map(), taking: new Set() },
): Promise<Answer<{ batch: number; labels: number; total: number }>> {
  if (ids.length > largestBatch) return refuse('batch-too-large', `A batch takes ${largestBatch} orders: make two.`)
  const plan = await planBatch(gharry, ids, taking)
  const home = await homeCurrency(gharry.db)
  if (plan.labels.length === 0) return refuse('nothing-to-buy', 'None of these orders can be bought now.')
  if (plan.total !== expected)
    return refuse(
      'total-moved',
      `The total is ${formatMoney(money(plan.total, home))} now, not ${formatMoney(money(expected, home))}: look once more and confirm.`,
    )
  const { above } = plan
  if (above > 0 && approval.trim() === '')
    return refuse(
      'above-ceiling',
      `This is ${formatMoney(money(above, home))} above what may be spent today without approval: say why it is bought all the same.`,
    )
  const now = gharry.now().toISOString()
  const keeps = await stockKeepers(gharry.db)
  return gharry.db.transaction(async (trx): Promise<Answer<{ batch: number; labels: number; total: number }>> => {
    const facts = await asPlanned(trx, plan, now)
    if ('code' in facts) return facts
    const take = await stockTaker(
      trx,
      keeps,
      plan.labels.map(({ order, location }) => ({ location, items: facts.get(order)!.items })),
    )
    const sold = plan.labels.find(({ order, location }) => take(location, facts.get(order)!.items) !== null)
    if (sold)
      return refuse('order-moved', `What order ${sold.number} needs was sold meanwhile: look once more and confirm.`)
    const rows = plan.labels.map((label, position) => queued(label, position, found.get(label.order)))
    const batch = await addBatch(trx, gharry.settings.author, rows, now)
    await holdForBatch(trx, batch, facts, keeps, now)
    if (wave) await nameBatch(trx, batch, wave.name, wave.leavesBy)
    await setState(
      trx,
      plan.labels.map((label) => label.order),
      'buying',
    )
    await writeLog(
      trx,
      plan.labels.map((label) => ({
        order: label.order,
        at: now,
        author: gharry.settings.author,
        sentence: `Put into batch ${batch} for ${formatMoney(money(label.cost, home))}${above > 0 ? `, above the day’s ceiling: ${approval.trim()}` : ''}`,
      })),
    )
    return { ok: true, batch, labels: plan.labels.length, total: plan.total }
  })
}

/** The orders of a plan as they are now; refused when anything that it rests on is otherwise meanwhile. */
async function asPlanned(trx: Database, plan: BatchPlan, now: string): Promise<Refused | ReadonlyMap<number, Order>> {
  const ids = plan.labels.map((label) => label.order)
  const taken = (await orderRows(trx, ids)).find((row) => !['attention', 'held', 'ready'].includes(row.state))
  if (taken) return refuse('taken', `Order ${taken.number} is ${taken.state} meanwhile: look at the batch again.`)
  // What was planned on must still be so: a label to yesterday's address would leave without anybody knowing.
  const versions = await versionsInForce(trx, now)
  if (versions.edition !== plan.edition || versions.world !== plan.world)
    return refuse('rules-moved', 'The rulebook or a list has changed meanwhile: look once more and confirm.')
  const facts = new Map((await ordersById(trx, ids)).map(({ id, order }) => [id, order]))
  const pins = await pinsOf(trx, ids)
  const changed = plan.labels.find(
    (label) => !facts.has(label.order) || basisOf(facts.get(label.order)!, pins.get(label.order)) !== label.basis,
  )
  return changed
    ? refuse('order-moved', `Order ${changed.number} has changed meanwhile: look once more and confirm.`)
    : facts
}

/** A label as it waits for the worker. */
const queued = (label: BatchPlan['labels'][number], position: number, found: FoundLabel | undefined) => ({
  ...{ orderId: label.order, position, key: randomUUID(), token: freshToken() },
  ...{ account: label.account, carrier: label.carrier, service: label.service },
  ...found,
  ...{ zone: label.zone, location: label.location },
  request: JSON.stringify({ ...label.request, service: found?.service ?? label.request.service }),
  ...{ quoted: label.cost, arrivesOn: label.arrivesOn, shipOn: label.request.shipOn },
  weight: label.parcels.reduce((sum, { weight }) => sum + weight, 0),
  ...{ listPrice: label.listPrice, buyerPaid: label.buyerPaid, rule: label.rule },
  parcels: label.parcels.map(({ preset, weight, size, contents }) => ({ preset, weight, size, contents })),
})
