import { labelsOfOrder, ordersByNumber } from '@/data'
import { refuse, type Answer, type Application } from '../../shared/application'
import { buyBatch } from '../buyBatch'
import { planBatch } from '../planBatch'
import type { BenchView } from './benchView'
import { openParcel } from './openParcel'

/** What the label of an order would be, before it is bought at a bench. */
export interface BenchOffer {
  readonly number: string
  readonly service: string
  /** Home minor units. */
  readonly cost: number
}

const waitMs = 8000
const lookEveryMs = 150

/** What buying the label of a scanned order at the bench would cost; or why it cannot be bought. */
export async function offerAtBench(gharry: Application, code: string): Promise<Answer<BenchOffer>> {
  const planned = await planOf(gharry, code)
  return planned.ok ? { ok: true, number: planned.number, service: planned.service, cost: planned.cost } : planned
}

/**
 * Buys the label of a scanned order for the price that was seen, and opens its parcel as soon as the carrier has
 * answered.
 */
export async function buyAtBench(
  gharry: Application,
  { bench, code, expected }: { readonly bench: string; readonly code: string; readonly expected: number },
): Promise<Answer<{ view: BenchView }>> {
  const planned = await planOf(gharry, code)
  if (!planned.ok) return planned
  const bought = await buyBatch(gharry, [planned.order], expected)
  if (!bought.ok) return bought
  const until = performance.now() + waitMs
  const state = async (): Promise<string> => (await labelsOfOrder(gharry.db, planned.order)).at(-1)?.state ?? ''
  while ((await state()) === 'queued' && performance.now() < until)
    await new Promise((resolve) => setTimeout(resolve, lookEveryMs))
  return openParcel(gharry, { bench, code, take: false })
}

async function planOf(gharry: Application, code: string): Promise<Answer<BenchOffer & { readonly order: number }>> {
  const [order] = await ordersByNumber(gharry.db, code.trim().toUpperCase())
  if (!order) return refuse('unknown-order', `There is no order “${code.trim().slice(0, 60)}”.`)
  const { labels, blocked } = await planBatch(gharry, [order.id])
  const [label] = labels
  if (!label) return refuse('nothing-to-buy', blocked[0]?.reason ?? 'Its label cannot be bought.')
  return { ok: true, order: order.id, number: label.number, service: label.service, cost: label.cost }
}
