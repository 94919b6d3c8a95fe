import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type LabelRequest, shopRawOrder } from '@/adapters'
import { addEdition, addWorld, fromJson, type LabelRow } from '@/data'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { storeOrders } from '@/usecases/intake/storeOrders'
import { openApplication, type Application } from '@/usecases/shared/application'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { buyingDone, startBuying } from '@/usecases/worker/work'
import { demoCarriers } from '../demo/carriers'
import { connectDemo } from '../demo/connect'
import { demoItems } from '../demo/items'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { carrierProcess } from './carrierProcess'

/** How many labels a second are bought. */
export interface BuyingFigures {
  readonly labels: number
  readonly perSecond: number
  /** The same calls without any books. */
  readonly peer: number
  /** While Heron, which has most of them, takes eight seconds for each: those of the others. */
  readonly beside: number
}

const latency = 50
const slow = 'heron'

/** Buys labels of the demo's orders at six carriers that take 50 ms to answer, in a process of their own. */
export async function benchBuying(count: number): Promise<BuyingFigures> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-buying-'))
  const carriers = await carrierProcess(folder)
  const all = demoCarriers.map(({ id }) => id)
  try {
    await carriers.faults(all, { latencyMs: latency })
    const gharry = await openApplication({
      ...{ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_STANDINS: 'none' },
      GHARRY_CALL_TIMEOUT_MS: '15000',
    })
    await readyOrders(gharry, carriers, 3 * count)
    const first = await queueLabels(gharry, count)
    const perSecond = await rate(first, async () => {
      await startBuying(gharry)
      await buyingDone(gharry)
    })
    const bought = await boughtOf(gharry, first)
    const peer = await rate(first, () => callsAlone(gharry, first))
    await carriers.faults([slow], { latencyMs: 8000 })
    const second = (await queueLabels(gharry, count)).filter(({ carrier }) => carrier !== slow)
    const beside = await rate(second, async () => {
      await startBuying(gharry)
      while ((await boughtOf(gharry, second)) < second.length) await new Promise((resolve) => setTimeout(resolve, 25))
    })
    await carriers.faults([slow], { latencyMs: 0 })
    await buyingDone(gharry)
    await gharry.close()
    return { labels: bought, perSecond, peer, beside }
  } finally {
    await carriers.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function rate(labels: readonly unknown[], work: () => Promise<unknown>): Promise<number> {
  const began = performance.now()
  await work()
  return Math.round(labels.length / ((performance.now() - began) / 1000))
}

/** A world with carriers, and so many orders that are decided. */
export async function readyOrders(
  gharry: Application,
  {
    urls,
    token,
    shop = 'http://127.0.0.1:9',
  }: { readonly urls: ReadonlyMap<string, string>; readonly token: string; readonly shop?: string },
  count: number,
): Promise<void> {
  const at = gharry.now().toISOString()
  await addWorld(gharry.db, { ...demoWorld, items: demoItems }, at)
  await addEdition(gharry.db, demoRulebook, '', 'bench', at)
  await connectDemo(gharry, { shop: { address: shop, key: 'k', secret: 's' }, carriers: urls, token })
  const inForce = (await rulebookInForce(gharry))!
  const raw = [...demoOrders('large', 7, at.slice(0, 10))].slice(-count).map((order) => shopRawOrder(order)!)
  for (let from = 0; from < raw.length; from += 500)
    await gharry.db.transaction((trx) =>
      storeOrders(trx, 'mossgill-shop', raw.slice(from, from + 500), inForce, gharry.now()),
    )
}

/** Queues labels for so many orders that are ready. */
export async function queueLabels(gharry: Application, count: number): Promise<readonly LabelRow[]> {
  const ready = await gharry.db('orders').where({ state: 'ready' }).limit(count).select<{ id: number }[]>('id')
  const plan = await planBatch(
    gharry,
    ready.map(({ id }) => id),
  )
  const answer = await buyBatch(
    gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
    'bench',
  )
  if (!answer.ok) throw new Error(answer.sentence)
  return gharry.db('labels').where({ batchId: answer.batch })
}

async function boughtOf(gharry: Application, labels: readonly LabelRow[]): Promise<number> {
  const carriers = [...new Set(labels.map(({ carrier }) => carrier))]
  const rows = await gharry
    .db('labels')
    .where({ batchId: labels[0]!.batchId, state: 'bought' })
    .whereIn('carrier', carriers)
    .select<{ id: number }[]>('id')
  return rows.length
}

/** The same labels asked for once more under their keys, a lane for each carrier: what the outside alone allows. */
async function callsAlone(gharry: Application, labels: readonly LabelRow[]): Promise<void> {
  const lanes = new Map<string, LabelRow[]>()
  for (const label of labels) lanes.set(label.carrier, [...(lanes.get(label.carrier) ?? []), label])
  await Promise.all(
    [...lanes].flatMap(([carrier, queue]) =>
      Array.from({ length: 24 }, async () => {
        const client = await gharry.carrier(carrier)
        for (let label = queue.pop(); label; label = queue.pop())
          await client!.buy(fromJson<LabelRequest>(label.request), label.key)
      }),
    ),
  )
}
