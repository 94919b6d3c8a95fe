import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { shopRawOrder } from '@/adapters'
import { normaliseOrder, type Order } from '@/core/order'
import {
  addChannel,
  addEdition,
  addJob,
  addWorld,
  changeJob,
  chunks,
  isPostgresAddress,
  jobById,
  jobByKey,
  openDatabase,
  readDraft,
  replaceDraft,
} from '@/data'
import { insertMany } from '@/data/engine'
import type { Application } from '@/usecases/shared/application'
import { workPastDays } from '@/usecases/rules/pastDays'
import { runTrial, showTrialRun, startTrial } from '@/usecases/rules/runTrial'
import { workerScript } from '@/usecases/tests/builtPrograms'
import { demoOrders } from '../demo/orders'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'

export interface TrialFigures {
  readonly orders: number
  readonly changed: number
  readonly seconds: number
  readonly peakMb: number
  readonly beforeMb: number
  /** Making the columns of all days that are over; 0 where none were made. */
  readonly keptIn: number
  readonly keptMb: number
}

/*
 * node scripts/run.mjs bench/trial.ts BOOKS [ORDERS] [kept]: a whole trial of all orders of books (a folder, or the
 * address of an empty database of PostgreSQL), 300 rules, one word of one rule changed; with ORDERS after as many were
 * added as make that many, with "kept" from columns. In a process of its own, as the worker's: what came before it does
 * not count as its memory.
 */
const [dataDir, upTo, kept] = process.argv.slice(2) as [string, string?, string?]
const inPostgres = isPostgresAddress(dataDir)
const books = inPostgres ? dataDir : join(dataDir, 'gharry.db')
const db = await openDatabase(books)
const now = new Date('2026-11-22T08:00:00Z')
const gharry = {
  db,
  now: () => now,
  settings: { leaseSeconds: 600, dataDir, books },
} as unknown as Application
if (inPostgres) {
  await addWorld(db, demoWorld, now.toISOString())
  await addChannel(db, {
    ...{ id: 'mossgill-shop', name: 'Mossgill Shop', kind: 'keyed-shop' },
    ...{ tellWhen: 'bought', everyMinutes: 0 },
  })
}
if (upTo && upTo !== '0') await addUpTo(Number(upTo))
const keptIn = kept ? await keepAll() : 0
const beforeMb = Math.round(process.memoryUsage().rss / 1e6)
console.log(JSON.stringify(await trialFigures()))
await db.destroy()

/** Adds orders of the demo's world, of other chances each 100,000, with their facts and nothing else. */
async function addUpTo(count: number): Promise<void> {
  if (!inPostgres) await db.raw('PRAGMA synchronous = OFF')
  const [{ n }] = (await db('orders').count({ n: '*' })) as [{ n: number }]
  const cards = new Map(demoWorld.items.map((item) => [item.sku, item]))
  for (let have = Number(n), seed = 100; have < count; seed++) {
    const orders = [...demoOrders('large', seed, '2026-11-20')].slice(0, count - have)
    have += orders.length
    for (const part of chunks(orders, 5000))
      await add(
        seed,
        part.map((order) => normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', cards)),
      )
  }
}

async function add(seed: number, list: readonly Order[]): Promise<void> {
  await db.transaction(async (trx) => {
    const ids = await insertMany(
      trx,
      'orders',
      [
        ...['channel_id', 'remote_id', 'number', 'state', 'rank', 'placed_at', 'promised_by', 'buyer', 'email'],
        ...['country', 'city', 'wording', 'quantity', 'fact_hash', 'imported_at'],
      ],
      list,
      (order) => [
        ...[order.channel, `${seed}-${order.remoteId}`, order.number, 'delivered', 9, order.placedAt, '', '', ''],
        ...['', '', '', 1, '', ''],
      ],
    )
    await insertMany(trx, 'order_facts', ['order_id', 'facts'], list, (order, i) => [ids[i], JSON.stringify(order)])
  })
}

/** Makes the columns of all days; gives how many seconds that took. */
async function keepAll(): Promise<number> {
  const began = performance.now()
  await addJob(db, 'past days', 'bench', {}, now.toISOString())
  for (let before = -1; ;) {
    await workPastDays(gharry, (await jobByKey(db, 'bench'))!)
    const [{ n }] = (await db('past_days').count({ n: '*' })) as [{ n: number }]
    if (n === before) break
    before = n
  }
  return Number(((performance.now() - began) / 1000).toFixed(1))
}

async function trialFigures(): Promise<TrialFigures> {
  const trialThreads = { script: workerScript(), count: availableParallelism() }
  const rulebook = realisticRulebook(300)
  await addEdition(db, rulebook, '', 'bench', now.toISOString())
  const draft = {
    ...rulebook,
    rules: rulebook.rules.map((rule) =>
      rule.id === 'v-express' ? { ...rule, then: [{ set: 'picks', to: [{ by: 'fastest' }] }] } : rule,
    ),
  }
  await replaceDraft(db, draft, (await readDraft(db))?.revision ?? 0, now.toISOString())
  const started = await startTrial(
    { ...gharry, trialThreads },
    {
      from: '2026-01-01',
      until: '2026-12-31',
      channels: [],
      everyNth: 1,
      asOf: '',
    },
  )
  if (!started.ok) throw new Error(started.sentence)
  let peak = 0
  const watch = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage().rss)
  }, 50)
  const began = performance.now()
  await runTrial({ ...gharry, trialThreads }, (await jobById(db, started.id))!)
  const seconds = (performance.now() - began) / 1000
  clearInterval(watch)
  await changeJob(db, started.id, { state: 'done' })
  const [{ bytes }] = (await db('past_parts').select(db.raw('COALESCE(SUM(LENGTH(content)), 0) AS bytes'))) as [
    { bytes: number },
  ]
  const { summary } = (await showTrialRun(gharry, started.id))!.result!
  return {
    orders: summary.orders,
    changed: summary.changed,
    seconds: Number(seconds.toFixed(1)),
    peakMb: Math.round(Math.max(peak, process.memoryUsage().rss) / 1e6),
    beforeMb,
    keptIn,
    keptMb: Math.round(bytes / 1e6),
  }
}
