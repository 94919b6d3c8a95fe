import { addMessage, stillWait, takeDue, takeTurns, type LabelRow } from '@/data'
import { planBatch } from '../dispatch/planBatch'
import { buyBatch } from '../dispatch/buyBatch'
import { countCall } from '../open/calls'
import { tooManyTries, countTry, forgetTries } from '../people/tries'
import { openApplication, type Application } from '../shared/application'
import { alarmClock } from '../worker/alarmClock'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

/** Several processes on the same books, each with a connection and a memory of its own. */
let rig: Rig
let others: Application[]
const onPostgres = Boolean(process.env.GHARRY_TEST_POSTGRES)
beforeEach(async () => {
  rig = await makeRig()
  others = []
  for (let i = 0; i < 2; i++) others.push(await openApplication(rig.env))
})
afterEach(async () => {
  await Promise.all(others.map((other) => other.close()))
  await rig.close()
})

test('of many who take work at once, each piece is taken by one, and all of it is taken', async () => {
  await rig.stockShop(soundOrders(120))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  expect(await buyBatch(rig.gharry, ids, (await planBatch(rig.gharry, ids)).total)).toMatchObject({ ok: true })
  const due = { states: ['queued'] }
  const taken = await Promise.all(
    Array.from({ length: 30 }, (_, i) => takeDue<LabelRow>(others[i % 2]!.db, 'labels', due, rig.gharry.now(), 4, 60)),
  )
  const rest = await takeDue<LabelRow>(others[0]!.db, 'labels', due, rig.gharry.now(), 200, 60)
  const all = [...taken.flat(), ...rest].map(({ id }) => id)
  expect(taken.every((rows) => rows.length <= 4)).toBe(true)
  expect(all).toHaveLength(120)
  expect(new Set(all).size).toBe(120)
})

test('turns at a carrier are one after the other, whoever asks for them', async () => {
  const now = rig.gharry.now()
  const given = await Promise.all(
    Array.from({ length: 20 }, (_, i) => takeTurns(others[i % 2]!.db, 'carrier heron', 1 + (i % 3), 10, now)),
  )
  const turns = given.flatMap(({ first, apart }, i) => Array.from({ length: 1 + (i % 3) }, (_, n) => first + n * apart))
  expect(turns.sort((a, b) => a - b)).toEqual(turns.map((_, i) => i * 100))
  // What was not asked for in time is not kept for later.
  const later = new Date(now.getTime() + 60_000)
  expect(await takeTurns(rig.gharry.db, 'carrier heron', 1, 10, later)).toEqual({ first: 0, apart: 100 })
})

test('wrong tries at one server count at the other, under no name that anybody could read', async () => {
  const [one, two] = others as [Application, Application]
  for (let i = 0; i < 3; i++) await countTry(one, 'ilse@mossgill.example', '192.0.2.7')
  expect(await tooManyTries(two, 'ilse@mossgill.example', '192.0.2.7')).toBeNull()
  for (let i = 0; i < 2; i++) await countTry(two, 'ilse@mossgill.example', '192.0.2.7')
  for (const server of others)
    expect(await tooManyTries(server, 'ilse@mossgill.example', '192.0.2.7')).toMatchObject({ code: 'too-many-tries' })
  expect(JSON.stringify(await rig.gharry.db('uses'))).not.toMatch(/ilse|192\.0/)
  await forgetTries(one, 'ilse@mossgill.example', '192.0.2.7')
  expect(await tooManyTries(two, 'ilse@mossgill.example', '192.0.2.7')).toBeNull()
})

test('calls at all servers count together, within a second', async () => {
  const count = async (server: Application, n: number): Promise<number> => {
    let used = 0
    for (let i = 0; i < n; i++) ({ used } = await countCall(server, 'calls of token 1', 60_000))
    return used
  }
  expect(await count(others[0]!, 10)).toBe(10)
  expect(await count(others[1]!, 5)).toBeGreaterThanOrEqual(5)
  await new Promise((resolve) => setTimeout(resolve, 1100))
  await count(others[0]!, 1)
  await new Promise((resolve) => setTimeout(resolve, 1100))
  expect(await count(others[1]!, 1)).toBe(17)
  const together = await Promise.all(Array.from({ length: 8 }, () => countCall(rig.gharry, 'calls of token 2', 60_000)))
  expect(Math.max(...together.map(({ used }) => used))).toBe(8)
})

test('messages that another worker has settled are not stored from an older reading', async () => {
  const at = rig.gharry.now().toISOString()
  for (const event of ['a', 'b'])
    await addMessage(rig.gharry.db, { connection: 'mossgill-shop', event, receivedAt: at, body: '{}' })
  const ids = ((await rig.gharry.db('messages').select('id')) as { id: number }[]).map(({ id }) => id)
  expect(await stillWait(others[0]!.db, ids)).toBe(true)
  await others[1]!.db('messages').where({ id: ids[0] }).update({ state: 'done' })
  expect(await stillWait(others[0]!.db, ids)).toBe(false)
})

;(onPostgres ? describe : describe.skip)('where the database tells of work', () => {
  test('new work wakes who sleeps for it; one of all keeps the schedule, and another one when it has gone', async () => {
    const [one, two] = others.map(alarmClock) as [ReturnType<typeof alarmClock>, ReturnType<typeof alarmClock>]
    const until = async (what: () => Promise<boolean>): Promise<void> => {
      while (!(await what())) await new Promise((resolve) => setTimeout(resolve, 20))
    }
    await until(() => one.elected())
    // The other one listens by now, too.
    await one.sleeper([])(500)
    expect(await two.elected()).toBe(false)
    const [own, other] = [one.sleeper(['imports']), two.sleeper(['posts', 'imports'])]
    const woken = Promise.all([own(100_000), other(100_000)])
    await requestImport(rig.gharry, 'mossgill-shop')
    await woken
    // What is told while it works wakes it as soon as it sleeps.
    await rig.gharry.db('imports').update({ state: 'done' })
    await rig.gharry.db('imports').update({ state: 'queued' })
    await new Promise((resolve) => setTimeout(resolve, 300))
    await own(100_000)
    await one.close()
    await until(() => two.elected())
    expect(await one.elected()).toBe(false)
    await two.close()
  })

  test('all connections are cut in the middle of a batch: it goes on, and nothing is bought twice', async () => {
    await rig.stockShop(soundOrders(60))
    await requestImport(rig.gharry, 'mossgill-shop')
    await rig.workAll()
    const ids = (await rig.orders()).map(({ id }) => id)
    for (const carrier of ['heron', 'corvid'] as const) await rig.faults(carrier, { latencyMs: 30 })
    expect(await buyBatch(rig.gharry, ids, (await planBatch(rig.gharry, ids)).total)).toMatchObject({ ok: true })
    let cuts = 0
    const cutting = setInterval(() => {
      cuts++
      void others[0]!.db
        .raw('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database()')
        // It ends its own connection too.
        .catch(() => undefined)
    }, 150)
    for (let round = 0; round < 15; round++) {
      await rig.workAll().catch(() => undefined)
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
    clearInterval(cutting)
    rig.put(5)
    await rig.workAll()
    expect(cuts).toBeGreaterThan(3)
    const labels = await rig.labels()
    const bought = await rig.carrierLabels()
    expect(labels.every(({ state }) => state === 'bought')).toBe(true)
    expect(bought).toHaveLength(60)
    expect(bought.map((label) => label.trackingNumber).sort()).toEqual(
      labels.map((label) => label.trackingNumber).sort(),
    )
  })
})

test('a database that cannot be used is refused with what to do', async () => {
  const open = (address: string): Promise<Application> => openApplication({ ...rig.env, GHARRY_DATABASE: address })
  await expect(open('postgres://gharry@127.0.0.1:9/x')).rejects.toThrow(
    'Nothing answers at the address of the database',
  )
  await expect(open('mysql://x')).rejects.toThrow('GHARRY_DATABASE is wrong: it must begin with postgres://')
  await expect(openApplication({ ...rig.env, GHARRY_WORK: 'packing' })).rejects.toThrow(
    'GHARRY_WORK is wrong: "packing" is no kind of work: imports, buying, telling, routing, trials are.',
  )
})

;(onPostgres ? test : test.skip)('a server of another kind than is needed is refused with what to do', async () => {
  const address = process.env.GHARRY_TEST_POSTGRES!
  const admin = others[0]!.db
  const open = (name: string, user = 'gharry'): Promise<Application> =>
    openApplication({ ...rig.env, GHARRY_DATABASE: `${address.replace('gharry@', `${user}@`)}/${name}` })
  await expect(open('not_there')).rejects.toThrow('There is no database of the name that its address has: make it')
  const name = `latin_${Date.now()}`
  await admin.raw(`CREATE DATABASE ${name} ENCODING 'LATIN1' LC_COLLATE 'C' LC_CTYPE 'C' TEMPLATE template0`)
  await expect(open(name)).rejects.toThrow('The database has the encoding LATIN1, which does not hold all names')
  await admin.raw(`DROP DATABASE ${name}`)
  // Somebody who may do nothing but connect, and make tables: no extension.
  const [poor, plain] = [`poor_${Date.now()}`, `plain_${Date.now()}`]
  await admin.raw(`CREATE ROLE ${poor} LOGIN`)
  await admin.raw(`CREATE DATABASE ${plain}`)
  await expect(open(plain, poor)).rejects.toThrow(
    'may not make tables there: give it the right to CREATE in the schema',
  )
  await admin.raw(`DROP DATABASE ${plain}`)
  await admin.raw(`CREATE DATABASE ${plain} OWNER ${poor}`)
  await admin.raw(`REVOKE CREATE ON DATABASE ${plain} FROM ${poor}`)
  const gharry = await open(plain, poor)
  await gharry.db('order_search').insert({ id: 1, body: 'ann kerkstraat' })
  await gharry.close()
  // A newer Gharry was here.
  await rig.gharry.db('knex_migrations').insert({ name: '999-later', batch: 99, migration_time: new Date() })
  await expect(openApplication(rig.env)).rejects.toThrow('The books are of a newer version of Gharry: start that one.')
  await rig.gharry.db('knex_migrations').where({ name: '999-later' }).delete()
  await admin.raw(`DROP DATABASE ${plain} WITH (FORCE)`)
  await admin.raw(`DROP ROLE ${poor}`)
})
