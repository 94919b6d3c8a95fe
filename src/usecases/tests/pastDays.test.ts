import fc from 'fast-check'
import { unshippedStates } from '@/core/order'
import { packPast, type PastOrder, unpackPast } from '@/core/rulebook/bulk'
import type { Rule } from '@/core/rulebook/language'
import {
  changesOf,
  fromJson,
  insertOrders,
  newOrder,
  jobById,
  makePastDay,
  ordersById,
  ordersInRange,
  outcomesOf,
  partsOf,
  pastDaysToMake,
  pastOrders,
  pinsOf,
  readDraft,
  removePin,
  setPin,
  setState,
  type TrialScope,
  updateFacts,
} from '@/data'
import { saveDraft } from '@/usecases/rules/editRulebook'
import { requestImport } from '@/usecases/intake/importOrders'
import { runTrial, showTrialRun, startTrial } from '@/usecases/rules/runTrial'
import { learnWorld } from '@/usecases/worker/learnWorld'
import { workBySchedule, workOneJob } from '@/usecases/worker/work'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
const dayMs = 86_400_000
const dayOf = (back: number): string => new Date(Date.now() - back * dayMs).toISOString().slice(0, 10)

beforeEach(async () => {
  rig = await makeRig()
  // Before anything is decided: the worker would learn of a holiday between two trials that are compared.
  await learnWorld(rig.gharry)
  // On six days, the last one yesterday.
  await rig.stockShop(
    soundOrders(24).map((order, i) => ({
      ...order,
      shipping_method: 'Standard',
      placed_at: new Date(Date.parse(`${dayOf(1 + (i % 6))}T10:00:00.000Z`) + 1000 * i).toISOString(),
    })),
  )
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
})
afterEach(() => rig.close())

const scope = (more: Partial<TrialScope> = {}): TrialScope => ({
  without: unshippedStates,
  from: dayOf(30),
  until: `${dayOf(0)}T23:59:59.999Z`,
  channels: [],
  ...more,
})
const byId = (orders: readonly PastOrder[]): PastOrder[] => [...orders].sort((a, b) => a.id - b.id)

/** All orders of a scope, as a trial reads them. */
async function asTried(size: number, of = scope()): Promise<PastOrder[]> {
  const { parts } = await partsOf(rig.gharry.db, of, size)
  const found: PastOrder[] = []
  for (const part of parts) found.push(...(await pastOrders(rig.gharry.db, of, part)))
  return byId(found)
}

/** The same from the books alone, with what is kept of each. */
async function asInBooks(of = scope()): Promise<PastOrder[]> {
  const { db } = rig.gharry
  const orders = await ordersInRange(db, of, { after: null, upTo: null })
  const pins = await pinsOf(
    db,
    orders.map(({ id }) => id),
  )
  return byId(orders.map((one) => ({ ...one, ...(pins.has(one.id) ? { pins: pins.get(one.id)! } : {}) })))
}
const kept = (orders: readonly PastOrder[]): PastOrder[] => unpackPast(packPast(orders))

const make = (back: number, size = 3): Promise<boolean> =>
  makePastDay(rig.gharry.db, dayOf(back), `m${Math.random()}`, rig.gharry.now().toISOString(), { size })

const changes: Readonly<Record<string, (id: number) => Promise<unknown>>> = {
  'is pinned': (id) => setPin(rig.gharry.db, id, 'location', 'leeds', 'Ilse', ''),
  'is not pinned any more': (id) => removePin(rig.gharry.db, id, 'location'),
  'is cancelled': (id) => setState(rig.gharry.db, [id], 'cancelled'),
  'comes back': (id) => setState(rig.gharry.db, [id], 'ready'),
  leaves: (id) => setState(rig.gharry.db, [id], 'dispatched'),
  'has another address': async (id) => {
    const [{ order }] = (await ordersById(rig.gharry.db, [id])) as unknown as [{ order: PastOrder['order'] }]
    const shipTo = { ...order.shipTo, city: `${order.shipTo.city}n` }
    await rig.gharry.db.transaction((trx) => updateFacts(trx, id, { ...order, shipTo }, `h${Math.random()}`))
  },
  'was placed on another day': async (id) => {
    const [{ order }] = (await ordersById(rig.gharry.db, [id])) as unknown as [{ order: PastOrder['order'] }]
    const placedAt = new Date(Date.parse(order.placedAt) - dayMs).toISOString()
    await rig.gharry.db.transaction((trx) => updateFacts(trx, id, { ...order, placedAt }, `h${Math.random()}`))
  },
  'has a twin that comes late': async (id) => {
    const { db } = rig.gharry
    const [{ order }] = (await ordersById(db, [id])) as unknown as [{ order: PastOrder['order'] }]
    const routed = (await outcomesOf(db, [id])).get(id)!
    const twin = { ...order, remoteId: `${order.remoteId}+${Math.random()}` }
    const entry = newOrder(twin, JSON.stringify(twin), '', { state: 'ready', routed, value: null })
    await db.transaction((trx) => insertOrders(trx, [entry], 1, 1, ''))
  },
}

test('what a trial reads is what the books say, whatever is kept as columns and whatever changes since', async () => {
  const step = fc.oneof(
    fc.record({ make: fc.integer({ min: 0, max: 8 }), size: fc.integer({ min: 1, max: 6 }) }),
    fc.record({ change: fc.constantFrom(...Object.keys(changes)), of: fc.integer({ min: 1, max: 24 }) }),
  )
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 12 }), async (steps) => {
      for (const one of steps) {
        if ('make' in one) await make(one.make, one.size)
        else await changes[one.change]!(one.of)
      }
      for (const size of [2, 100])
        expect(await asTried(size)).toEqual(byId(mixed(await asTried(size), await asInBooks())))
      expect(kept(await asTried(3))).toEqual(kept(await asInBooks()))
      const shop = scope({ channels: ['trade-desk'] })
      expect(await asTried(3, shop)).toEqual([])
    }),
    { numRuns: 25 },
  )
})

/** What is kept of an order has no names: where it was read from columns, the books are held to that. */
const mixed = (tried: readonly PastOrder[], books: readonly PastOrder[]): PastOrder[] => {
  const nameless = new Set(tried.filter(({ order }) => order.buyer.name === '').map(({ id }) => id))
  return books.map((one) => (nameless.has(one.id) ? kept([one])[0]! : one))
}

test('a day is read from its columns: it needs no facts of the books; one that changed is read there', async () => {
  const { db } = rig.gharry
  const before = kept(await asInBooks())
  expect(await make(3)).toBe(true)
  const ofDay = (await rig.orders()).filter(({ placedAt }) => placedAt.startsWith(dayOf(3))).map(({ id }) => id)
  expect(ofDay).toHaveLength(4)
  const rows = (await db('past_parts').orderBy('part')) as { part: number; counts: string }[]
  expect(rows.map(({ part, counts }) => [part, fromJson(counts)])).toEqual([
    [0, { 'mossgill-shop': 3 }],
    [1, { 'mossgill-shop': 1 }],
  ])
  await db('order_facts').whereIn('order_id', ofDay).delete()
  expect(kept(await asTried(100))).toEqual(before)
  expect((await partsOf(db, scope(), 100)).orders).toBe(24)
  await changes['is pinned']!(ofDay[0]!)
  expect((await asTried(100)).map(({ id }) => id)).not.toContain(ofDay[0])
})

test('what changes while a day is made is not lost, whoever made it last', async () => {
  const { db } = rig.gharry
  const [first] = (await rig.orders()).filter(({ placedAt }) => placedAt.startsWith(dayOf(2)))
  let times = 0
  const change = async (): Promise<boolean> => {
    await changes['has another address']!(first!.id)
    times++
    return true
  }
  expect(await makePastDay(db, dayOf(2), 'one', '', { goesOn: change, size: 1 })).toBe(true)
  expect(times).toBeGreaterThanOrEqual(4)
  expect(kept(await asTried(100))).toEqual(kept(await asInBooks()))
  // One that is overtaken leaves all to the other.
  const overtaken = await makePastDay(db, dayOf(2), 'two', '', { goesOn: () => change().then(() => make(2)) })
  expect(overtaken).toBe(false)
  expect(kept(await asTried(100))).toEqual(kept(await asInBooks()))
  // One that is stopped has changed nothing.
  expect(await makePastDay(db, dayOf(2), 'three', '', { goesOn: () => Promise.resolve(false) })).toBe(false)
  await changes.leaves!(first!.id)
  expect(kept(await asTried(100))).toEqual(kept(await asInBooks()))
})

test('a part that is made anew while a trial runs is read from the books', async () => {
  const { db } = rig.gharry
  await make(2)
  const { parts } = await partsOf(db, scope(), 100)
  const before = kept(await asInBooks())
  await changes['has a twin that comes late']!(
    1 + (await rig.orders()).findIndex(({ placedAt }) => placedAt.startsWith(dayOf(2))),
  )
  await make(2, 2)
  const found: PastOrder[] = []
  for (const part of parts) found.push(...(await pastOrders(db, scope(), part)))
  expect(found).toHaveLength(before.length + 1)
})

const byMorning: Rule = {
  id: 'morning',
  stage: 'service',
  name: 'Morning',
  on: true,
  when: { all: [] },
  then: [{ set: 'picks', to: [{ by: 'service', service: 'heron-morning' }] }],
}

test('the worker keeps days that are over two days; a trial comes to the same with them', async () => {
  const { gharry } = rig
  const { db } = gharry
  const tried = async (more: object = {}): Promise<unknown> => {
    const started = await startTrial(gharry, {
      from: dayOf(30),
      until: dayOf(0),
      channels: [],
      everyNth: 1,
      asOf: '',
      ...more,
    })
    if (!started.ok) throw new Error(started.sentence)
    await runTrial(gharry, (await jobById(db, started.id))!, 5)
    const { result, total } = (await showTrialRun(gharry, started.id))!
    await db('jobs').where({ id: started.id }).update({ state: 'done' })
    return { summary: result!.summary, flow: result!.flow, total, changes: await changesOf(db, started.id, 0, 100) }
  }
  const draft = (await readDraft(db))!
  await saveDraft(gharry, { ...draft.rulebook, rules: [byMorning, ...draft.rulebook.rules] }, draft.revision)
  await changes['is pinned']!(4)
  const fromBooks = [await tried(), await tried({ everyNth: 3 })]
  await workBySchedule(gharry)
  while (await workOneJob(gharry, false));
  expect((await db('past_days').orderBy('day').pluck('day')) as string[]).toEqual([6, 5, 4, 3, 2].map(dayOf))
  expect(await pastDaysToMake(db, dayOf(1), 9)).toEqual([])
  expect([await tried(), await tried({ everyNth: 3 })]).toEqual(fromBooks)
  // Many that changed: the day is made anew.
  await changes.leaves!(4)
  expect(await pastDaysToMake(db, dayOf(1), 9)).toHaveLength(1)
})
