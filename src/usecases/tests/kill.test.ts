import { spawn, type ChildProcess } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { saveConnection } from '@/usecases/intake/connections'
import { receiveMessage } from '@/usecases/intake/messages'
import { requestImport } from '@/usecases/intake/importOrders'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { asQuillOrder, quillCredentials } from '../../../demo/quillOrders'
import { deskStandIn } from '../../../standins/desk'
import { warehouseStandIn } from '../../../standins/warehouse'
import { changeWorld } from '@/usecases/shared/changeWorld'
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
async function killWorker(): Promise<void> {
  const gone = new Promise((resolve) => worker!.once('exit', resolve))
  worker!.kill('SIGKILL')
  await gone
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
    if (now === 0) {
      await killWorker()
      return killed
    }
    if (killed < kills && before - now >= step) {
      await killWorker()
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

test('killed in the middle of 1,500 messages of a channel: every order is there once', async () => {
  expect(
    await saveConnection(rig.gharry, null, {
      ...{ role: 'channel', kind: 'pushing-market', name: 'Quillmart', on: true },
      settings: { address: 'http://127.0.0.1:9', ...quillCredentials },
    }),
  ).toMatchObject({ ok: true })
  for (const [i, order] of soundOrders(1500).map(asQuillOrder).entries()) {
    const body = Buffer.from(JSON.stringify({ event: `event-${i}`, about: order.id, order }))
    const stamp = String(Math.floor(Date.now() / 1000))
    const signed = createHmac('sha256', quillCredentials.signingSecret).update(`${stamp}.`).update(body).digest('hex')
    const heads: Record<string, string> = { 'message-timestamp': stamp, 'message-signature': `v1=${signed}` }
    const answer = await receiveMessage(rig.gharry, 'quillmart', { header: (name) => heads[name] ?? null, body })
    expect(answer.status).toBe(202)
  }
  const left = async (): Promise<number> => {
    const [{ n }] = (await rig.gharry.db('messages').where({ state: 'waiting' }).count({ n: '*' })) as [{ n: number }]
    return Number(n)
  }
  expect(await killUntilDone(left, 200, 2)).toBeGreaterThanOrEqual(1)
  const orders = await rig.orders()
  expect(orders).toHaveLength(1500)
  expect(new Set(orders.map((order) => order.remoteId)).size).toBe(1500)
}, 180_000)

test('killed between the files of an SFTP folder: every order is there once, and every file is put away', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-kill-'))
  const desk = deskStandIn({ folder, user: 'u', password: 'p' })
  const http = await desk.app.listen({ host: '127.0.0.1', port: 0 })
  const ask = async (path: string, body?: object): Promise<unknown> =>
    (
      await fetch(`${http}${path}`, {
        ...(body
          ? { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }
          : {}),
      })
    ).json()
  const { fingerprint } = (await ask('/admin/key')) as { fingerprint: string }
  expect(
    await saveConnection(rig.gharry, null, {
      ...{ role: 'channel', kind: 'sftp-folder', name: 'Wholesale', on: true },
      settings: {
        ...{ host: '127.0.0.1', port: String(await desk.listen(0)), user: 'u', password: 'p', hostKey: fingerprint },
        ...{ folder: '', seller: 'Mossgill', answers: 'ubl' },
      },
    }),
  ).toMatchObject({ ok: true })
  const line = (n: number): string =>
    JSON.stringify({
      number: `W-${n}`,
      shipTo: { name: 'Kiosk', lines: ['Markt 3'], postcode: '9300', city: 'Aalst', country: 'BE' },
      items: [{ sku: 'W-1', quantity: 1, weight: 700, weightUnit: 'g' }],
    })
  for (let file = 0; file < 20; file++)
    await ask('/admin/files', {
      name: `orders-${String(file).padStart(2, '0')}.jsonl`,
      content: Array.from({ length: 30 }, (_, i) => line(file * 30 + i)).join('\n'),
      age: 900 - file,
    })
  await requestImport(rig.gharry, 'wholesale')
  const left = async (): Promise<number> => {
    const open: unknown = await rig.gharry.db('imports').whereIn('state', ['queued', 'running']).first('id')
    return open ? 601 - (await rig.orders()).length : 0
  }
  expect(await killUntilDone(left, 150, 3)).toBeGreaterThanOrEqual(2)
  expect(await rig.orders()).toHaveLength(600)
  await requestImport(rig.gharry, 'wholesale')
  expect(await killUntilDone(left, 1000, 0)).toBe(0)
  const files = (await ask('/admin/files')) as Record<string, object>
  expect([Object.keys(files.in!).length, Object.keys(files.done!).length]).toEqual([0, 20])
  await desk.app.close()
  rmSync(folder, { recursive: true, force: true })
}, 180_000)

test('killed while papers are handed over: the partner has each order once, with its papers', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-kill-'))
  const warehouse = warehouseStandIn({ folder, user: 'u', password: 'p' })
  const http = await warehouse.app.listen({ host: '127.0.0.1', port: 0 })
  const ask = async <T>(path: string, body?: object): Promise<T> =>
    (
      await fetch(`${http}${path}`, {
        ...(body
          ? { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }
          : {}),
      })
    ).json() as Promise<T>
  const { fingerprint } = await ask<{ fingerprint: string }>('/admin/key')
  const saved = await saveConnection(rig.gharry, null, {
    ...{ role: 'partner', kind: 'sftp-warehouse', name: 'Aire Storage', on: true },
    settings: {
      ...{ host: '127.0.0.1', port: String(await warehouse.listen(0)), user: 'u', password: 'p' },
      ...{ hostKey: fingerprint, folder: '', order: 'json', papers: 'zpl' },
    },
  })
  expect(saved).toMatchObject({ ok: true })
  await changeWorld(rig.gharry, null, '', (world) => ({
    ...world,
    locations: world.locations.map((location) => ({ ...location, partner: 'aire-storage' })),
  }))
  await rig.stockShop(soundOrders(60))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  rig.realTime()
  const plan = await planBatch(rig.gharry, ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: 60 })
  const left = async (): Promise<number> => {
    const [{ n }] = (await rig.gharry.db('handovers').where({ state: 'sent' }).count({ n: '*' })) as [{ n: number }]
    return 60 - Number(n)
  }
  expect(await killUntilDone(left, 12, 3)).toBeGreaterThanOrEqual(2)
  const files = await ask<Record<string, Record<string, string>>>('/admin/files')
  const orders = Object.values(files.orders!).map((text) => JSON.parse(text) as { order: string; reference: string })
  expect(new Set(orders.map(({ order }) => order)).size).toBe(60)
  expect(orders).toHaveLength(60)
  for (const { reference } of orders) expect(files.papers![`${reference}.zpl`]).toContain('^XZ')
  await warehouse.app.close()
  rmSync(folder, { recursive: true, force: true })
}, 180_000)
