import { spawn } from 'node:child_process'
import { createServer } from 'node:http'
import { join } from 'node:path'
import type { AddressInfo } from 'node:net'
import pino from 'pino'
import { isPostgres, noteProcess, slowestStatements, trustClock, workedUntil } from '@/data'
import { noteTime } from '@/data/slowest'
import { metricsText, noteAnswer } from '@/usecases/health/metrics'
import { openGuard } from '@/usecases/health/readOnly'
import { briefHealth, showHealth } from '@/usecases/health/showHealth'
import { whileReadOnly } from '@/usecases/people/atTheDoor'
import { ask } from '@/usecases/open/ask'
import { buyingDone, startBuying, workOnce } from '@/usecases/worker/work'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { requestImport } from '@/usecases/intake/importOrders'
import { end } from './processes'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

/** Labels that wait to be bought. */
async function queueLabels(count: number): Promise<void> {
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  expect(await buyBatch(rig.gharry, ids, (await planBatch(rig.gharry, ids)).total)).toMatchObject({ ok: true })
}

const log = pino({ level: 'silent' })
const minute = 60_000
/** A machine whose clock and disk are as a test says. */
async function machine(more: { wall?: number; shared?: () => number } = {}) {
  const state = { wall: more.wall ?? Date.now(), steady: 0, free: 10e9, shared: more.shared ?? null }
  const guard = await openGuard(
    rig.gharry.db,
    { dataDir: '/', leastFreeBytes: 300e6, log },
    {
      ...{ wall: () => state.wall, steady: () => state.steady, free: () => state.free },
      shared: () => Promise.resolve(state.shared?.() ?? null),
    },
  )
  const pass = (ms: number, jump = 0): Promise<void> => {
    state.steady += ms
    state.wall += ms + jump
    return guard.look()
  }
  return { state, guard, pass }
}

describe('when nothing is changed', () => {
  test('the disk is almost full; it goes on once there is some more than the least', async () => {
    const { state, guard, pass } = await machine()
    expect(guard.readOnly()).toBeNull()
    state.free = 299e6
    await pass(5000)
    expect(guard.readOnly()).toMatch(/has 299 MB left, and Gharry changes nothing below 300 MB: make room there/)
    state.free = 320e6
    await pass(5000)
    expect(guard.readOnly()).not.toBeNull()
    state.free = 400e6
    await pass(5000)
    expect(guard.readOnly()).toBeNull()
    guard.end()
  })

  test('machines that share a database go by its clock, whatever their own says', async () => {
    const right = Date.now()
    let passed = 0
    const { guard, pass } = await machine({ wall: right - 60 * minute, shared: () => right + passed })
    expect(guard.now().getTime()).toBe(right)
    passed = minute
    // The machine's clock is put ahead by a year: that is seen, and made good for.
    await pass(minute, 366 * 24 * 60 * minute)
    expect(guard.now().getTime()).toBe(right + minute)
    expect(guard.readOnly()).toBeNull()
    // That of the database is wrong.
    passed = -60 * minute
    await pass(minute)
    expect(guard.readOnly()).toMatch(/The clock of the database says/)
    guard.end()
  })

  test('the clock is set back, or far ahead; small steps, summer time and a night asleep are no fault', async () => {
    const { state, guard, pass } = await machine()
    await pass(minute, -2 * minute)
    await pass(minute, 2 * minute)
    // A machine that slept: the steady clock stood still.
    await pass(minute, 9 * 60 * minute)
    expect(guard.readOnly()).toBeNull()
    const before = state.wall
    state.wall -= 40 * minute
    // It is seen at once, and nobody goes by it.
    expect(guard.readOnly()).toMatch(/was later before/)
    expect(guard.now().getTime()).toBe(before)
    state.wall += 40 * minute
    expect(guard.readOnly()).toBeNull()
    await pass(minute, -40 * minute)
    expect(guard.now().getTime()).toBe(before + minute)
    expect(guard.readOnly()).toMatch(/^The clock of this machine says .* was later before: set it right/)
    // It was set right again.
    await pass(minute, 40 * minute)
    expect(guard.readOnly()).toBeNull()
    await pass(minute, 400 * 24 * 60 * minute)
    expect(guard.readOnly()).toMatch(/was much earlier before/)
    expect(guard.now().getTime()).toBeLessThan(state.wall - 399 * 24 * 60 * minute)
    guard.end()
  })

  test('a machine that starts with a clock behind the books changes nothing until it is said that it is right', async () => {
    await workOnce(rig.gharry)
    const until = Date.parse((await workedUntil(rig.gharry.db))!)
    const { state, guard, pass } = await machine({ wall: until - 3 * 60 * minute })
    expect(guard.readOnly()).toMatch(/was later before/)
    expect(guard.now().getTime()).toBe(until)
    await trustClock(rig.gharry.db, new Date(state.wall).toISOString())
    await pass(5000)
    expect(guard.readOnly()).toBeNull()
    expect(guard.now().getTime()).toBe(state.wall)
    await pass(20 * minute)
    expect(guard.readOnly()).toBeNull()
    guard.end()
  })

  test('calls that change something are refused with the reason, all else is answered; nothing is bought', async () => {
    const full = { ...rig.gharry, readOnly: () => 'The disk is full: make room.' }
    expect(whileReadOnly(full, 'POST /api/dispatch/batches')).toMatchObject({
      code: 'read-only',
      sentence: 'Nothing is changed now. The disk is full: make room.',
    })
    expect(whileReadOnly(full, 'POST /api/hooks/:id')).toMatchObject({ code: 'read-only' })
    for (const call of [
      'GET /api/desk',
      'POST /api/people/sign-in',
      'POST /api/people/sign-out',
      'POST /api/setup/health/clock',
    ])
      expect([call, whileReadOnly(full, call)]).toEqual([call, null])
    expect(whileReadOnly(rig.gharry, 'POST /api/dispatch/batches')).toBeNull()
    const question = {
      method: 'POST',
      path: '/orders',
      query: new URLSearchParams(),
      authorization: null,
      key: null,
      body: {},
    }
    expect(await ask(full, question)).toMatchObject({ status: 503, headers: { 'retry-after': '60' } })
    await queueLabels(3)
    expect(await startBuying(full)).toBe(false)
    expect(await rig.carrierLabels()).toEqual([])
    expect(await startBuying(rig.gharry)).toBe(true)
    await buyingDone(rig.gharry)
    expect(await rig.carrierLabels()).toHaveLength((await rig.labels()).length)
  })
})

test('what somebody has to see to is said: a worker that died, work that waits, a connection that is ill, backups', async () => {
  await queueLabels(4)
  rig.put(30)
  const view = await showHealth(rig.gharry)
  const said = view.concerns.map(({ sentence }) => sentence)
  expect(said).toEqual(
    expect.arrayContaining([
      'No worker runs: nothing is imported, bought or told. Start it.',
      // PostgreSQL's own tools keep its books.
      ...(isPostgres(rig.gharry.db) ? [] : [expect.stringMatching(/^There is no backup yet/) as string]),
      expect.stringMatching(/^Labels to buy and void: [1-4] wait longer than they should\.$/) as string,
    ]),
  )
  const labels = view.queues.find(({ name }) => name === 'Labels to buy and void')!
  expect(labels).toMatchObject({ due: (await rig.labels()).length, late: true, failed: 0 })
  expect(await briefHealth(rig.gharry)).toMatchObject({ worker: false, readOnly: false })
  const at = rig.gharry.now().toISOString()
  const beat = { id: 'w', kind: 'worker', version: '0', startedAt: at, seenAt: at, readOnly: null, slow: [] } as const
  await noteProcess(rig.gharry.db, beat)
  await rig.workAll()
  await noteProcess(rig.gharry.db, { ...beat, seenAt: rig.gharry.now().toISOString() })
  const well = await showHealth(rig.gharry)
  expect(well.concerns.filter(({ sentence }) => !sentence.includes('backup'))).toEqual([])
  expect(well.processes).toMatchObject([{ id: 'w', silent: false }])
  // One that died is shown until another one has taken its place.
  const minutes = (n: number): string => new Date(rig.gharry.now().getTime() + n * minute).toISOString()
  await noteProcess(rig.gharry.db, { ...beat, id: 'server 1', kind: 'server', seenAt: minutes(-30) })
  expect((await showHealth(rig.gharry)).processes).toContainEqual(
    expect.objectContaining({ id: 'server 1', silent: true }),
  )
  await noteProcess(rig.gharry.db, {
    ...beat,
    id: 'server 2',
    kind: 'server',
    startedAt: minutes(-1),
    seenAt: minutes(0),
  })
  expect((await showHealth(rig.gharry)).processes.map(({ id }) => id).sort()).toEqual(['server 2', 'w'])
  expect(well.versions).toMatchObject({
    engine: expect.stringMatching(/^(?:SQLite 3|PostgreSQL \d)/) as string,
    form: expect.stringMatching(/^\d{3}-/) as string,
  })
})

test('figures for machines are those that people see', async () => {
  await queueLabels(4)
  noteAnswer('GET /api/desk', 200, 12)
  noteAnswer('GET /api/desk', 503, 7000)
  const { type, text } = await metricsText(rig.gharry)
  expect(type).toContain('text/plain')
  const figure = (name: string): number =>
    Number(
      text
        .split('\n')
        .find((line) => line.startsWith(`${name} `))
        ?.split(' ')
        .at(-1),
    )
  const due = (await showHealth(rig.gharry)).queues.find(({ name }) => name.startsWith('Labels'))!.due
  expect(due).toBeGreaterThan(0)
  expect(figure('gharry_work_due{work="labels"}')).toBe(due)
  expect(figure('gharry_workers')).toBe(0)
  expect(figure('gharry_read_only')).toBe(0)
  expect(figure('gharry_answer_seconds_count{call="GET /api/desk",status="2xx"}')).toBe(1)
  expect(figure('gharry_answer_seconds_bucket{le="5",call="GET /api/desk",status="5xx"}')).toBe(0)
  // Nothing of anybody's orders.
  for (const { buyer, number } of await rig.orders()) expect(text.includes(buyer) || text.includes(number)).toBe(false)
})

test('traces go to a collector, with what was called and how it ended, and nothing else', async () => {
  const received: {
    resourceSpans: { scopeSpans: { spans: { name: string; parentSpanId?: string; attributes: unknown[] }[] }[] }[]
  }[] = []
  const collector = createServer((request, response) => {
    const parts: Buffer[] = []
    request.on('data', (part: Buffer) => parts.push(part))
    request.on('end', () => {
      received.push(JSON.parse(Buffer.concat(parts).toString('utf8')) as (typeof received)[number])
      response.end('{}')
    })
  })
  await new Promise<void>((resolve) => void collector.listen(0, '127.0.0.1', resolve))
  await queueLabels(2)
  rig.realTime()
  await rig.gharry.db('work_clock').delete()
  await rig.gharry.db('labels').update({ nextAt: new Date().toISOString() })
  const worker = spawn('node', ['scripts/run.mjs', 'cli/worker.ts'], {
    cwd: join(__dirname, '../../..'),
    env: {
      ...{ ...process.env, ...rig.env, GHARRY_NOTICE_WAIT_SECONDS: '0' },
      GHARRY_TRACES: `http://127.0.0.1:${(collector.address() as AddressInfo).port}`,
    },
    stdio: 'ignore',
  })
  while ((await rig.labels()).some(({ state }) => state !== 'bought'))
    await new Promise((resolve) => setTimeout(resolve, 100))
  await end(worker, 'SIGTERM')
  collector.close()
  const spans = received
    .flatMap(({ resourceSpans }) => resourceSpans)
    .flatMap(({ scopeSpans }) => scopeSpans)
    .flatMap(({ spans }) => spans)
  const names = spans.map(({ name }) => name)
  expect(names).toEqual(expect.arrayContaining(['work on labels']))
  const bought = spans.find(({ name, parentSpanId }) => /^POST 127\.0\.0\.1/.test(name) && parentSpanId)
  expect(bought).toBeDefined()
  const all = JSON.stringify(spans)
  for (const { buyer, number } of await rig.orders()) expect(all.includes(buyer) || all.includes(number)).toBe(false)
})

test('slow statements are kept without their values', () => {
  noteTime('select * from orders where id in (?, ?, ?)', 250)
  noteTime('select * from orders where id in (?, ?)', 150)
  noteTime('select 1', 3)
  const found = slowestStatements().filter(({ sql }) => sql.includes('where id in'))
  expect(found).toMatchObject([{ sql: 'select * from orders where id in (?, …)', ms: 250, times: 2 }])
  expect(slowestStatements().some(({ sql }) => sql === 'select 1')).toBe(false)
})
