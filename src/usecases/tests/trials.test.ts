import type { Rule } from '@/core/rulebook/language'
import { jobById, ordersInRange, readDraft, rangesOf } from '@/data'
import { publishDraft, saveDraft, showRulebook, withdrawScheduled } from '@/usecases/rules/editRulebook'
import { requestImport } from '@/usecases/intake/importOrders'
import { pinDecision } from '@/usecases/desk/pinDecision'
import type { Application } from '@/usecases/shared/application'
import {
  allTrialChanges,
  cancelTrial,
  compareTrails,
  runTrial,
  showTrialRun,
  startTrial,
  type TrialOptions,
} from '@/usecases/rules/runTrial'
import { showSuggestions } from '@/usecases/rules/suggestRules'
import { workBySchedule } from '@/usecases/worker/work'
import { makeRig, soundOrders, type Rig } from './rig'
import { workerScript } from './builtPrograms'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
  await rig.stockShop(
    soundOrders(8).map((order, i) => ({
      ...order,
      shipping_method: 'Standard',
      placed_at: new Date(Date.now() - i * 3_600_000).toISOString(),
    })),
  )
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
})
afterEach(() => rig.close())

const day = (ahead = 0): string => new Date(rig.gharry.now().getTime() + ahead * 86_400_000).toISOString().slice(0, 10)
const range = (more: Partial<TrialOptions> = {}): TrialOptions => ({
  from: day(-3),
  until: day(1),
  channels: [],
  everyNth: 1,
  asOf: '',
  ...more,
})
const rule = (id: string, stage: Rule['stage'], then: Rule['then'], more: Partial<Rule> = {}): Rule => ({
  id,
  stage,
  name: id,
  on: true,
  when: { all: [] },
  then,
  ...more,
})
const put = async (...rules: Rule[]): Promise<number> => {
  const draft = (await readDraft(rig.gharry.db))!
  const saved = await saveDraft(
    rig.gharry,
    { ...draft.rulebook, rules: [...rules, ...draft.rulebook.rules] },
    draft.revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  return saved.revision
}
const byMorning = rule('morning', 'service', [{ set: 'picks', to: [{ by: 'service', service: 'heron-morning' }] }])

describe('a trial of a range', () => {
  const start = async (options: TrialOptions): Promise<number> => {
    const started = await startTrial(rig.gharry, options)
    if (!started.ok) throw new Error(started.sentence)
    return started.id
  }
  test('says what the draft would change, with each order and both trails', async () => {
    await put(byMorning)
    const id = await start(range())
    expect(await showTrialRun(rig.gharry, id)).toMatchObject({ state: 'queued', total: 8, result: null })
    await rig.workAll()
    const view = (await showTrialRun(rig.gharry, 'newest'))!
    expect(view).toMatchObject({ id, state: 'done', done: 8, result: { summary: { orders: 8, changed: 8 } } })
    expect(view.result!.summary.groups.service['heron-morning']!.ordersAfter).toBe(8)
    expect(view.result!.flow.morning).toEqual({ came: 8, matched: 8, decided: 8 })
    const changes = []
    for await (const change of allTrialChanges(rig.gharry, id)) changes.push(change)
    expect(changes).toHaveLength(8)
    expect(view.result!.summary.costDifference).toBe(
      changes.reduce((sum, { before, after }) => sum + after.cost! - before.cost!, 0),
    )
    const compared = (await compareTrails(rig.gharry, changes[0]!.id, id))!
    expect([compared.before.quote?.service, compared.after.quote?.service]).toEqual([
      changes[0]!.before.service,
      'heron-morning',
    ])
  })
  test('by channel, as a sample, and as of another day', async () => {
    await put(rule('xmas', 'service', byMorning.then, { from: day(30), until: day(60) }))
    const run = async (options: TrialOptions): Promise<{ orders: number; changed: number }> => {
      const id = await start(options)
      await rig.workAll()
      return (await showTrialRun(rig.gharry, id))!.result!.summary
    }
    expect(await run(range())).toMatchObject({ orders: 8, changed: 0 })
    expect(await run(range({ asOf: day(45) }))).toMatchObject({ orders: 8, changed: 8 })
    expect(await run(range({ everyNth: 3 }))).toMatchObject({ orders: 3 })
    expect(await startTrial(rig.gharry, range({ channels: ['trade-desk'] }))).toMatchObject({
      ok: false,
      code: 'no-orders',
    })
    expect(await startTrial(rig.gharry, range({ from: day(2) }))).toMatchObject({ ok: false, code: 'bad-range' })
  })
  test('however its orders are divided, each is in one range, in the order in which they were placed', async () => {
    const { db } = rig.gharry
    await db('orders')
      .where('id', '>', 4)
      .update({ placedAt: (await rig.orders())[4]!.placedAt })
    const placed = [...(await rig.orders())]
      .sort((a, b) => {
        if (a.placedAt < b.placedAt) return -1
        return a.placedAt > b.placedAt ? 1 : a.id - b.id
      })
      .map(({ id }) => id)
    const scope = { without: [], from: '', until: '~', channels: [] }
    for (let size = 1; size <= placed.length + 1; size++) {
      const ranges = await rangesOf(db, scope, size)
      const parts = await Promise.all(ranges.map((range) => ordersInRange(db, scope, range)))
      expect(parts.flat().map(({ id }) => id)).toEqual(placed)
      for (const part of parts) expect(part.length).toBeLessThanOrEqual(size)
    }
  })
  test('in threads it comes to the same, range by range, and what fails in a thread is said', async () => {
    await rig.gharry
      .db('orders')
      .where('id', '>', 4)
      .update({ placedAt: (await rig.orders())[4]!.placedAt })
    await put(byMorning)
    const script = workerScript()
    const run = async (gharry: Application, options: TrialOptions): Promise<unknown[]> => {
      const id = await start(options)
      await runTrial(gharry, (await jobById(rig.gharry.db, id))!, 3)
      const changes = []
      for await (const change of allTrialChanges(rig.gharry, id)) changes.push(change)
      const { summary, flow } = (await showTrialRun(rig.gharry, id))!.result!
      return [summary, flow, changes]
    }
    for (const options of [range(), range({ everyNth: 3 })]) {
      const alone = await run(rig.gharry, options)
      expect(alone[2]).toHaveLength(options.everyNth === 3 ? 3 : 8)
      expect(await run({ ...rig.gharry, trialThreads: { script, count: 2 } }, options)).toEqual(alone)
    }
    await rig.gharry.db('order_facts').where('order_id', 8).update({ facts: 'no JSON' })
    await expect(run({ ...rig.gharry, trialThreads: { script, count: 2 } }, range())).rejects.toThrow(/JSON/)
  })
  test('cancelled, it stops and says so', async () => {
    await put(byMorning)
    const id = await start(range())
    expect(await cancelTrial(rig.gharry, id)).toEqual({ ok: true })
    await rig.workAll()
    expect(await showTrialRun(rig.gharry, id)).toMatchObject({ state: 'cancelled', result: null })
    expect(await cancelTrial(rig.gharry, id)).toMatchObject({ ok: false, code: 'not-running' })
  })
})

test('an edition from a day on: nothing changes until then; it can be withdrawn', async () => {
  const before = (await rig.orders()).map((order) => order.service)
  const revision = await put(byMorning)
  expect(await publishDraft(rig.gharry, revision, 'later', day(-1))).toMatchObject({ ok: false, code: 'past-day' })
  const later = await publishDraft(rig.gharry, revision, 'later', day(2))
  expect(later).toMatchObject({ ok: true, edition: 2 })
  expect(await withdrawScheduled(rig.gharry, 2)).toEqual({ ok: true })
  expect(await publishDraft(rig.gharry, revision, 'later again', day(2))).toMatchObject({ ok: true, edition: 3 })
  await workBySchedule(rig.gharry)
  await rig.workAll()
  expect(await showRulebook(rig.gharry)).toMatchObject({ inForce: { number: 1 }, next: { number: 3 } })
  expect((await rig.orders()).map((order) => order.service)).toEqual(before)
  rig.put(2 * 24 * 60)
  await workBySchedule(rig.gharry)
  await rig.workAll()
  expect(await showRulebook(rig.gharry)).toMatchObject({ inForce: { number: 3 }, next: null })
  expect((await rig.orders()).every((order) => order.service === 'heron-morning')).toBe(true)
  expect(await withdrawScheduled(rig.gharry, 3)).toMatchObject({ ok: false, code: 'in-force' })
})

test('a hold until a moment ends by itself', async () => {
  const revision = await put(
    rule('wait', 'triage', [{ set: 'hold', to: { reason: 'waits a while', until: { hours: 48 } } }]),
  )
  await publishDraft(rig.gharry, revision, 'wait')
  await rig.workAll()
  const held = await rig.orders()
  expect(
    held.every(
      (order) =>
        order.state === 'held' &&
        order.hold === 'waits a while' &&
        order.holdUntil === new Date(Date.parse(order.placedAt) + 48 * 3_600_000).toISOString(),
    ),
  ).toBe(true)
  rig.put(49 * 60)
  await workBySchedule(rig.gharry)
  expect(
    (await rig.orders()).every((order) => order.state === 'ready' && order.hold === null && order.holdUntil === null),
  ).toBe(true)
})

test('a draft that leaves orders without a service needs a note', async () => {
  const revision = await put(rule('none', 'service', [{ set: 'barred', to: ['heron', 'corvid'] }]))
  expect(await publishDraft(rig.gharry, revision, '')).toMatchObject({
    ok: false,
    code: 'new-gaps',
    sentence: expect.stringContaining('“none”') as string,
  })
  expect(await publishDraft(rig.gharry, revision, 'the warehouse is closed')).toMatchObject({ ok: true })
})

test('what people keep pinning is offered as a rule', async () => {
  const orders = await rig.orders()
  for (const order of orders.slice(0, 4)) await pinDecision(rig.gharry, order.id, 'slip', 'trade')
  await rig.gharry
    .db('orders')
    .whereIn(
      'id',
      orders.slice(4).map((order) => order.id),
    )
    .update({ state: 'dispatched' })
  for (const suggestion of await showSuggestions(rig.gharry)) {
    expect(suggestion).toMatchObject({ decision: 'slip', value: 'trade', pinned: 4 })
    expect(suggestion.support.length).toBeGreaterThanOrEqual(3)
    expect(suggestion.support.length).toBeGreaterThan(3 * suggestion.against.length - 1)
  }
})
