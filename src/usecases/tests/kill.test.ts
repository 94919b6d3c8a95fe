import { spawn, type ChildProcess } from 'node:child_process'
import { join } from 'node:path'
import { requestImport } from '@/usecases/intake/importOrders'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { makeRig, soundOrders, type Rig } from './rig'

/** The real worker process, killed without warning again and again, against the real stand-ins and their books. */
let rig: Rig
let worker: ChildProcess | null = null
beforeEach(async () => {
  rig = await makeRig({ env: { GHARRY_LEASE_SECONDS: '1', GHARRY_NOTICE_WAIT_SECONDS: '0' } })
})
afterEach(async () => {
  worker?.kill('SIGKILL')
  await rig.close()
})

const root = join(__dirname, '../../..')
function startWorker(): void {
  worker = spawn('node', ['scripts/run.mjs', 'cli/worker.ts'], {
    cwd: root,
    env: { ...process.env, ...rig.env },
    stdio: 'ignore',
  })
}
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

/** Kills the worker each time the work has moved on by `step`, starts it anew, until `left` says 0. */
async function killUntilDone(left: () => Promise<number>, step: number, kills: number): Promise<number> {
  startWorker()
  let killed = 0
  let before = await left()
  for (const end = Date.now() + 150_000; Date.now() < end;) {
    await pause(25)
    const now = await left()
    if (now === 0) return killed
    if (killed < kills && before - now >= step) {
      worker!.kill('SIGKILL')
      await new Promise((resolve) => worker!.once('exit', resolve))
      killed++
      before = await left()
      startWorker()
    }
  }
  throw new Error(`not done: ${await left()} left after ${killed} kills`)
}

test('killed in the middle of an import: every order is there once', async () => {
  await rig.stockShop(soundOrders(2600))
  await rig.faults('shop', { latencyMs: 120 })
  await requestImport(rig.gharry, 'mossgill-shop')
  const left = async (): Promise<number> => {
    const [{ n }] = (await rig.gharry.db('orders').count({ n: '*' })) as [{ n: number }]
    const open: unknown = await rig.gharry.db('imports').whereIn('state', ['queued', 'running']).first('id')
    return open ? 2601 - Number(n) : 0
  }
  expect(await killUntilDone(left, 500, 2)).toBe(2)
  const orders = await rig.orders()
  expect(orders).toHaveLength(2600)
  expect(new Set(orders.map((order) => order.remoteId)).size).toBe(2600)
  const [{ n }] = (await rig.gharry.db('decisions').count({ n: '*' })) as [{ n: number }]
  expect(Number(n)).toBe(2600)
}, 180_000)

test('killed in the middle of a batch of 200 labels and of posting: none bought twice, every channel told once', async () => {
  await rig.stockShop(soundOrders(200))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  rig.realTime()
  const ids = (await rig.orders()).map((order) => order.id)
  const plan = await planBatch(rig.gharry, ids)
  expect(plan.labels).toHaveLength(200)
  for (const carrier of ['heron', 'corvid'] as const) await rig.faults(carrier, { latencyMs: 40, timeOutAfterWork: 9 })
  await rig.faults('shop', { latencyMs: 15, timeOutAfterWork: 11 })
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: 200 })
  const left = async (): Promise<number> => {
    const [{ labels }] = (await rig.gharry.db('labels').whereNot({ state: 'bought' }).count({ labels: '*' })) as [
      { labels: number },
    ]
    const [{ posts }] = (await rig.gharry.db('posts').whereNot({ state: 'sent' }).count({ posts: '*' })) as [
      { posts: number },
    ]
    const [{ notices }] = (await rig.gharry.db('notices').whereNot({ state: 'sent' }).count({ notices: '*' })) as [
      { notices: number },
    ]
    return 2 * Number(labels) + Number(posts) + Number(notices)
  }
  expect(await killUntilDone(left, 60, 5)).toBeGreaterThanOrEqual(4)

  const labels = await rig.labels()
  const bought = await rig.carrierLabels()
  expect(bought).toHaveLength(200)
  expect(new Set(bought.map((label) => label.key)).size).toBe(200)
  expect(bought.map((label) => label.trackingNumber).sort()).toEqual(labels.map((label) => label.trackingNumber).sort())
  const shop = await rig.shopOrders()
  expect(shop.every((order) => order.status === 'fulfilled' && order.fulfilments.length === 1)).toBe(true)
  expect(await rig.mails()).toHaveLength(200)
  const [{ spend }] = (await rig.gharry.db('ledger').sum({ spend: 'amount' })) as [{ spend: number }]
  expect(Number(spend)).toBe(bought.reduce((sum, label) => sum + label.charged.minor, 0))
}, 180_000)
