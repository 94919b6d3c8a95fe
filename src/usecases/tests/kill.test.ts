import { grams } from '@/core/units'
import { spawn, type ChildProcess } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { saveConnection } from '@/usecases/intake/connections'
import { receiveMessage } from '@/usecases/intake/messages'
import { requestImport } from '@/usecases/intake/importOrders'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { bookCollection } from '@/usecases/dispatch/collections/planCollection'
import { settleLeftBehind } from '@/usecases/dispatch/door/showManifests'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { asQuillOrder, quillCredentials } from '../../../demo/quillOrders'
import type { AddressInfo } from 'node:net'
import { printAtBench, saveBench } from '@/usecases/dispatch/bench/benchPrinter'
import { openParcel } from '@/usecases/dispatch/bench/openParcel'
import { type PrintedJob, printersStandIn } from '../../../standins/printers'
import { deskStandIn } from '../../../standins/channels/desk'
import { warehouseStandIn } from '../../../standins/warehouse'
import { changeWorld } from '@/usecases/shared/changeWorld'
import { askReturn } from '../tracking/returns/askReturn'
import { checkReturn } from '../tracking/returns/checkReturn'
import { demoRulebook } from '../../../demo/rulebook'
import { withReturnRules } from '../../../demo/returns'
import { end } from './processes'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'
import { buildOnce } from './builtPrograms'

/** The real worker process, killed without warning again and again, against the real stand-ins and their books. */
let rig: Rig
const workers: ChildProcess[] = []
/** Of those who share a database several work at once. */
const atOnce = process.env.GHARRY_TEST_POSTGRES ? 3 : 1
beforeEach(async () => {
  rig = await makeRig({
    rulebook: withReturnRules(demoRulebook),
    // Answers of others are listened to now and then, as in earnest: not at each round.
    env: { GHARRY_LEASE_SECONDS: '1', GHARRY_NOTICE_WAIT_SECONDS: '0', GHARRY_PAUSE_MS: '250' },
  })
})
/** What a test has begun besides, to be closed whatever becomes of it: an open server would keep the tests from ending. */
let begun: { close(): Promise<unknown> }[] = []
afterEach(async () => {
  await killAll()
  program = ['cli/worker.ts']
  programEnv = {}
  for (const one of begun) await one.close()
  begun = []
  await rig.close()
})

buildOnce('cli/worker.ts', 'src/usecases/tests/benchProgram.test-help.ts')
const root = join(__dirname, '../../..')
/** What runs now: the worker, where a test does not say otherwise. */
let program = ['cli/worker.ts']
let programEnv: Record<string, string> = {}
function startWorkers(): void {
  while (workers.length < atOnce)
    workers.push(
      spawn('node', ['scripts/run.mjs', ...program], {
        cwd: root,
        env: { ...process.env, ...rig.env, ...programEnv },
        stdio: 'ignore',
      }),
    )
}
/** Kills the one that has worked longest. */
async function killWorker(): Promise<void> {
  const worker = workers.shift()
  if (worker) await end(worker, 'SIGKILL')
}
async function killAll(): Promise<void> {
  while (workers.length > 0) await killWorker()
}
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

/** What waits after a failed try waits no longer: the times between tries are not what these tests are about. */
async function hurry(): Promise<void> {
  const now = new Date().toISOString()
  for (const table of ['labels', 'posts', 'notices', 'handovers', 'manifests', 'collections', 'returns', 'print_jobs'])
    await rig.gharry.db(table).whereNull('lease_until').where('next_at', '>', now).update({ nextAt: now })
}

/** Kills the worker each time the work has moved on by `step`, starts it anew, until `left` says 0. */
async function killUntilDone(left: () => Promise<number>, step: number, kills: number): Promise<number> {
  // The clock of this world was put ahead while it was made ready; leases would wait for the time to catch up.
  await rig.gharry.db('work_clock').delete()
  startWorkers()
  let killed = 0
  let before = await left()
  let hurried = Date.now()
  for (const end = Date.now() + 220_000; Date.now() < end;) {
    await pause(50)
    const now = await left()
    if (now === 0) {
      await killAll()
      return killed
    }
    if (killed < kills && before - now >= step) {
      await killWorker()
      killed++
      before = await left()
      startWorkers()
    }
    if (Date.now() - hurried > 3000) {
      hurried = Date.now()
      await hurry()
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
  expect(await killUntilDone(left, 800, 1)).toBe(1)
  const orders = await rig.orders()
  expect(orders).toHaveLength(2600)
  expect(new Set(orders.map((order) => order.remoteId)).size).toBe(2600)
  const [{ n }] = (await rig.gharry.db('decisions').count({ n: '*' })) as [{ n: number }]
  expect(Number(n)).toBe(2600)
}, 500_000)

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
  expect(await killUntilDone(left, 90, 4)).toBeGreaterThanOrEqual(3)

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
}, 500_000)

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
  expect(await killUntilDone(left, 400, 1)).toBe(1)
  const orders = await rig.orders()
  expect(orders).toHaveLength(1500)
  expect(new Set(orders.map((order) => order.remoteId)).size).toBe(1500)
}, 500_000)

test('killed between the files of an SFTP folder: every order is there once, and every file is put away', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-kill-'))
  const desk = deskStandIn({ folder, user: 'u', password: 'p' })
  begun.push(desk.app)
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
    const [{ n }] = (await rig.gharry.db('orders').count({ n: '*' })) as [{ n: number }]
    return open ? 601 - Number(n) : 0
  }
  expect(await killUntilDone(left, 200, 2)).toBeGreaterThanOrEqual(1)
  expect(await rig.orders()).toHaveLength(600)
  await requestImport(rig.gharry, 'wholesale')
  expect(await killUntilDone(left, 1000, 0)).toBe(0)
  const files = (await ask('/admin/files')) as Record<string, object>
  expect([Object.keys(files.in!).length, Object.keys(files.done!).length]).toEqual([0, 20])
  rmSync(folder, { recursive: true, force: true })
}, 500_000)

test('killed while papers are handed over: the partner has each order once, with its papers', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-kill-'))
  const warehouse = warehouseStandIn({ folder, user: 'u', password: 'p' })
  begun.push(warehouse.app)
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
  expect(await killUntilDone(left, 12, 2)).toBeGreaterThanOrEqual(1)
  const files = await ask<Record<string, Record<string, string>>>('/admin/files')
  const orders = Object.values(files.orders!).map((text) => JSON.parse(text) as { order: string; reference: string })
  expect(new Set(orders.map(({ order }) => order)).size).toBe(60)
  expect(orders).toHaveLength(60)
  for (const { reference } of orders) expect(files.papers![`${reference}.zpl`]).toContain('^XZ')
  rmSync(folder, { recursive: true, force: true })
}, 500_000)

test('killed while manifests go out and collections are booked: each is at its carrier once, and all parcels are on one', async () => {
  await rig.stockShop(soundOrders(36))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const plan = await planBatch(
    rig.gharry,
    (await rig.orders()).map(({ id }) => id),
  )
  await buyBatch(
    rig.gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
  )
  await rig.workAll()
  rig.realTime()
  const labels = (await rig.labels()).filter(({ state }) => state === 'bought')
  for (const carrier of ['heron', 'corvid'] as const)
    await rig.faults(carrier, { latencyMs: 60, timeOutAfterWork: 5, serverError: 7 })
  // A lorry each: as many messages as there are parcels.
  for (const { id } of labels)
    expect(await settleLeftBehind(rig.gharry, { labels: [id], left: true })).toMatchObject({ ok: true })
  const plans = { place: '', notes: '', parcels: 20, pallets: 0, weight: grams(9000) }
  for (let i = 0; i < 12; i++)
    expect(
      await bookCollection(rig.gharry, {
        ...{ carrier: 'heron', location: 'ghent', day: nextWorkday(3 + i), confirmation: '' },
        ...{ plan: { ...plans, from: '14:00', until: '18:00' }, key: `collection ${i} of a test` },
      }),
    ).toMatchObject({ ok: true })
  const left = async (): Promise<number> => {
    const n = async (table: string): Promise<number> =>
      Number(((await rig.gharry.db(table).where({ state: 'queued' }).count({ n: '*' })) as [{ n: number }])[0].n)
    return (await n('manifests')) + (await n('collections'))
  }
  expect(await killUntilDone(left, 12, 2)).toBeGreaterThanOrEqual(1)
  const told = (
    await Promise.all(
      ['heron', 'corvid', 'northlight', 'dray'].map((id) =>
        rig.ask<{ parcels: { trackingNumber: string }[] }[]>(id, '/admin/manifests'),
      ),
    )
  ).flat()
  const numbers = told.flatMap(({ parcels }) => parcels.map(({ trackingNumber }) => trackingNumber))
  expect(numbers.sort()).toEqual(labels.map(({ trackingNumber }) => trackingNumber).sort())
  expect(await rig.gharry.db('manifests').whereNot({ state: 'sent' })).toEqual([])
  const booked = await rig.ask<{ confirmation: string }[]>('heron', '/admin/collections')
  const rows = (await rig.gharry.db('collections').where({ state: 'booked' })) as { confirmation: string }[]
  expect(booked.map(({ confirmation }) => confirmation).sort()).toEqual(
    rows.map(({ confirmation }) => confirmation).sort(),
  )
  expect(rows).toHaveLength(12)
}, 500_000)

test('killed while a bench scans and prints: each scan counts once, and no label is printed twice without saying so', async () => {
  await buyReady(rig, soundOrders(24))
  const labels = await rig.labels()
  rig.realTime()
  const printers = printersStandIn(':memory:')
  begun.push(printers.app)
  const admin = await printers.app.listen({ host: '127.0.0.1', port: 0 })
  await new Promise<void>((resolve) => void printers.raw.listen(0, '127.0.0.1', resolve))
  const address = `127.0.0.1:${(printers.raw.address() as AddressInfo).port}`
  const settings = { printer: 'raw', address, prints: 'asked', scale: '' } as const
  await saveBench(rig.gharry, { bench: 'Bench 1', settings })
  const scans: { check: number; key: string; code: string }[] = []
  const whole = new Map<number, number[]>()
  for (const { id, trackingNumber } of labels) {
    const answer = await openParcel(rig.gharry, { bench: 'Bench 1', code: trackingNumber!, take: false })
    if (!answer.ok) throw new Error(answer.sentence)
    const { check, parcel } = answer.view
    whole.set(
      check,
      parcel.lines.map(({ quantity }) => quantity),
    )
    for (const { sku, quantity } of parcel.lines)
      for (let i = 0; i < quantity; i++) scans.push({ check, key: `scan ${check} ${sku} ${i}`, code: sku })
    await printAtBench(rig.gharry, { bench: 'Bench 1', label: id, key: `print ${id}` })
  }
  const number = async (query: Promise<unknown>): Promise<number> => Number(((await query) as [{ n: number }])[0].n)
  const { db } = rig.gharry
  expect(
    await killUntilDone(() => number(db('print_jobs').where({ state: 'queued' }).count({ n: '*' })), 4, 2),
  ).toBeGreaterThanOrEqual(1)
  program = ['src/usecases/tests/benchProgram.test-help.ts']
  programEnv = { GHARRY_TEST_SCANS: JSON.stringify(scans) }
  const unscanned = async (): Promise<number> => scans.length - (await number(db('check_scans').count({ n: '*' })))
  expect(await killUntilDone(unscanned, Math.ceil(scans.length / 4), 2)).toBeGreaterThanOrEqual(1)

  for (const { id, state, counted } of (await db('checks')) as { id: number; state: string; counted: string }[])
    expect([id, state, JSON.parse(counted)]).toEqual([id, 'done', whole.get(id)])
  const keys = ((await db('check_scans').select('key')) as { key: string }[]).map(({ key }) => key)
  expect(keys.sort()).toEqual(scans.map(({ key }) => key).sort())
  const printed = ((await (await fetch(`${admin}/admin/jobs`)).json()) as PrintedJob[]).map((job) => ({
    ...{ whole: job.whole, text: Buffer.from(job.content, 'base64').toString('utf8') },
  }))
  for (const { trackingNumber } of labels) {
    const own = printed.filter(({ text }) => text.includes(trackingNumber!))
    expect(own.some((job) => job.whole)).toBe(true)
    expect(own.filter(({ text }) => !text.includes('REPRINT')).length).toBeLessThanOrEqual(1)
  }
}, 500_000)

/** A day so many days on, or the Monday after it. */
function nextWorkday(days: number): string {
  const day = new Date(Date.now() + days * 86_400_000)
  while (day.getUTCDay() % 6 === 0) day.setUTCDate(day.getUTCDate() + 1)
  return day.toISOString().slice(0, 10)
}

test('killed while return labels are made and refunds are told: one label and one refund for each, one mail of each', async () => {
  const count = 10
  await buyReady(rig, soundOrders(count))
  const labels = await rig.labels()
  expect(labels).toHaveLength(count)
  rig.realTime()
  const { db } = rig.gharry
  await db('labels').update({ status: 'delivered', deliveredAt: rig.gharry.now().toISOString() })
  const carriers = [...new Set(labels.map(({ carrier }) => carrier))]
  for (const carrier of carriers) await rig.faults(carrier, { latencyMs: 250, timeOutAfterWork: 5 })
  for (const { token } of labels)
    expect(
      await askReturn(rig.gharry, token, {
        ...{ pieces: [{ item: 0, quantity: 1 }], reason: 'wrong item', words: '', photo: null },
      }),
    ).toEqual({ ok: true })
  const waiting = async (table: string, state: string): Promise<number> =>
    Number(((await db(table).where({ state }).count({ n: '*' })) as [{ n: number }])[0].n)
  expect(await killUntilDone(() => waiting('returns', 'making'), 2, 2)).toBeGreaterThanOrEqual(1)
  const rows = (await db('returns').where({ state: 'ready' })) as { id: number; trackingNumber: string }[]
  expect(rows).toHaveLength(count)
  const made: string[] = []
  for (const carrier of ['heron', 'corvid', 'northlight', 'dray'])
    made.push(
      ...(await rig.ask<{ trackingNumber: string }[]>(carrier, '/admin/returns')).map((one) => one.trackingNumber),
    )
  expect(made.sort()).toEqual(rows.map(({ trackingNumber }) => trackingNumber).sort())

  await rig.faults('shop', { latencyMs: 250, timeOutAfterWork: 4 })
  for (const { id } of rows)
    expect(
      await checkReturn(rig.gharry, {
        ...{ id, found: [{ item: 0, quantity: 1, condition: 'as new', kept: true }], amount: null },
        ...{ withShipping: true, note: '' },
      }),
    ).toMatchObject({ ok: true })
  expect(await killUntilDone(() => waiting('posts', 'queued'), 2, 1)).toBe(1)
  const paid = (await rig.shopOrders()).flatMap(({ refunds = [] }) => refunds)
  expect(paid).toHaveLength(count)
  const amounts = ((await db('returns').select('amount')) as { amount: number }[]).map(({ amount }) => amount)
  expect(paid.map(({ minor }) => minor).sort((a, b) => a - b)).toEqual(amounts.sort((a, b) => a - b))
  const keys = (await rig.mails()).map(({ to, subject }) => `${to} ${subject}`)
  expect(new Set(keys).size).toBe(keys.length)
}, 500_000)
