import { connectionById, ordersById } from '@/data'
import { consent } from '../../../demo/consent'
import { asLaneOrder, laneApplication, laneCodes } from '../../../demo/laneOrders'
import type { LaneOrder } from '../../../standins/channels/lane'
import { beginAuthorisation, finishAuthorisation, type Authorised } from '../intake/authoriseConnection'
import { saveConnection, showConnections, testConnection, type ConnectionInput } from '../intake/connections'
import { requestImport } from '../intake/importOrders'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { workImport } from '../worker/work'
import { makeRig, soundOrders, type Rig } from './rig'
import { startStandIn, type StandInProcess } from './standInProcess'

const home = 'gharry.example'
let rig: Rig
let lane: StandInProcess
beforeAll(async () => {
  rig = await makeRig()
  lane = await startStandIn('lane', 'GHARRY_LANE_PORT', {
    GHARRY_DATA: rig.env.GHARRY_DATA!,
    GHARRY_URL: 'http://gharry.example',
  })
  await lane.tell('/admin/orders', soundOrders(260).map(asLaneOrder))
})
afterAll(async () => {
  await lane.close()
  await rig.close()
})

const input = (more: Partial<ConnectionInput> = {}): ConnectionInput => ({
  role: 'channel',
  kind: 'authorised-market',
  name: 'Tallow Lane',
  settings: { address: lane.url, ...laneApplication, carrierCodes: laneCodes },
  on: true,
  ...more,
})
const view = async () => (await showConnections(rig.gharry)).connections.find(({ id }) => id === 'tallow-lane')!
const ordersHere = async () => (await rig.orders()).filter(({ channelId }) => channelId === 'tallow-lane')

async function authorise(
  form: Record<string, string> = { answer: 'allow', country: 'NL', days: '90' },
): Promise<Authorised> {
  const begun = await beginAuthorisation(rig.gharry, 'tallow-lane')
  if (!begun.ok) throw new Error(begun.sentence)
  return finishAuthorisation(rig.gharry, await consent(begun.url, home, form), begun.browser)
}

test('set up, not authorised yet: it says so, and nothing is asked', async () => {
  expect(await testConnection(rig.gharry, null, input())).toMatchObject({ works: false, sentence: /authorise it/ })
  expect(
    await saveConnection(rig.gharry, null, input({ settings: { ...input().settings, carrierCodes: 'heron HRN' } })),
  ).toMatchObject({
    fields: { carrierCodes: 'Write one carrier a line, as in “heron = HERON”.' },
  })
  expect(await saveConnection(rig.gharry, null, input())).toMatchObject({ ok: true, id: 'tallow-lane' })
  expect((await view()).health.state).toBe('not authorised')
})

test('a consent that is denied changes nothing', async () => {
  expect(await authorise({ answer: 'deny' })).toEqual({ connection: 'tallow-lane', result: 'denied' })
  expect((await connectionById(rig.gharry.db, 'tallow-lane'))!.tokens).toBeNull()
})

test('a return that does not fit is not taken: another state, another browser, twice, too late', async () => {
  const begin = async () => {
    const begun = await beginAuthorisation(rig.gharry, 'tallow-lane')
    if (!begun.ok) throw new Error(begun.sentence)
    return begun
  }
  const unknown = { connection: null, result: 'unknown' }
  const begun = await begin()
  const returned = await consent(begun.url, home, { answer: 'allow' })
  const other = new URL(returned)
  other.searchParams.set('state', 'x'.repeat(43))
  expect(await finishAuthorisation(rig.gharry, other, begun.browser)).toEqual(unknown)
  other.searchParams.delete('state')
  expect(await finishAuthorisation(rig.gharry, other, begun.browser)).toEqual(unknown)
  // Whoever began it in another browser does not finish it here, and it is used up.
  expect(await finishAuthorisation(rig.gharry, returned, 'of another')).toEqual(unknown)
  expect(await finishAuthorisation(rig.gharry, returned, begun.browser)).toEqual(unknown)

  // The code of one authorisation is no use for another: the server has used it.
  const first = await begin()
  const firstReturn = await consent(first.url, home, { answer: 'allow' })
  expect(await finishAuthorisation(rig.gharry, firstReturn, first.browser)).toMatchObject({ result: 'done' })
  const second = await begin()
  const stale = new URL(firstReturn)
  stale.searchParams.set('state', (await consent(second.url, home, { answer: 'allow' })).searchParams.get('state')!)
  expect(await finishAuthorisation(rig.gharry, stale, second.browser)).toMatchObject({ result: 'failed' })

  const late = await begin()
  const lateReturn = await consent(late.url, home, { answer: 'allow' })
  rig.put(31)
  expect(await finishAuthorisation(rig.gharry, lateReturn, late.browser)).toEqual(unknown)
  rig.realTime()
})

test('authorised: tokens are sealed, the end is known, and orders come in with the marketplace’s ways', async () => {
  expect(await authorise()).toEqual({ connection: 'tallow-lane', result: 'done' })
  const row = (await connectionById(rig.gharry.db, 'tallow-lane'))!
  expect(row.tokens).toMatch(/^v2:/)
  expect(Math.round((Date.parse(row.endsAt!) - Date.now()) / 86_400_000)).toBe(90)
  expect(JSON.stringify(await showConnections(rig.gharry))).not.toContain('"tokens"')
  expect(await testConnection(rig.gharry, 'tallow-lane', input())).toMatchObject({ works: true })
  await requestImport(rig.gharry, 'tallow-lane')
  await rig.workAll()
  rig.realTime()
  const orders = await ordersHere()
  expect(orders).toHaveLength(260)
  expect(orders[0]).toMatchObject({ number: 'TL-700001', email: 'b1@relay.tallow-lane.example' })
  const [source] = await lane
    .tell<LaneOrder[]>('/admin/orders')
    .then((all) => all.filter(({ orderId }) => orderId === 'tl-000001'))
  const stored = (await ordersById(rig.gharry.db, [orders[0]!.id]))[0]!.order
  expect(stored.value).toEqual({ minor: source!.amounts.goods, currency: source!.currency })
  expect(stored.promisedBy).toBe(source!.deliverBy)
})

test('tokens that end are renewed once, however many ask at the same time, also after the other side refuses them', async () => {
  await lane.tell('/admin/tokens', { accessSeconds: 1 })
  expect(await authorise()).toMatchObject({ result: 'done' })
  const client = await rig.gharry.channel('tallow-lane')
  const before = (await lane.tell<{ status: number }[]>('/admin/received')).length
  const answers = await Promise.all(Array.from({ length: 8 }, () => client.fetchOrders('')))
  expect(answers.every(({ ok }) => ok)).toBe(true)
  await new Promise((resolve) => setTimeout(resolve, 1300))
  expect((await client.fetchOrders('')).ok).toBe(true)
  expect(
    (await lane.tell<{ status: number }[]>('/admin/received')).slice(before).filter(({ status }) => status === 401)
      .length,
  ).toBeLessThan(3)
  await lane.tell('/admin/tokens', { accessSeconds: 300 })
  expect(await authorise()).toMatchObject({ result: 'done' })
})

test('a mistyped secret of the application costs no authorisation', async () => {
  await lane.tell('/admin/tokens', { accessSeconds: 1 })
  expect(await authorise()).toMatchObject({ result: 'done' })
  const save = async (clientSecret: string): Promise<void> => {
    const { version } = (await connectionById(rig.gharry.db, 'tallow-lane'))!
    const settings = { ...input().settings, clientSecret }
    expect(await saveConnection(rig.gharry, 'tallow-lane', input({ settings, version }))).toMatchObject({ ok: true })
  }
  await save('mistyped-secret-of-32-characters')
  await new Promise((resolve) => setTimeout(resolve, 1300))
  const refused = await (await rig.gharry.channel('tallow-lane')).fetchOrders('')
  expect(refused).toMatchObject({ ok: false, sentence: /does not know this application/ })
  expect((await connectionById(rig.gharry.db, 'tallow-lane'))!.tokens).not.toBeNull()
  await save(laneApplication.clientSecret)
  expect((await (await rig.gharry.channel('tallow-lane')).fetchOrders('')).ok).toBe(true)
  await lane.tell('/admin/tokens', { accessSeconds: 300 })
  expect(await authorise()).toMatchObject({ result: 'done' })
})

test('labels of many carriers are told by the marketplace’s codes; buyers are not written to; a carrier without a code is said', async () => {
  const some = (await ordersHere()).filter(({ state }) => state === 'ready').slice(0, 12)
  const plan = await planBatch(
    rig.gharry,
    some.map(({ id }) => id),
  )
  const bought = await buyBatch(
    rig.gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
  )
  expect(bought).toMatchObject({ ok: true })
  await rig.workAll()
  const labels = await rig.labels()
  const told = (await lane.tell<LaneOrder[]>('/admin/orders')).filter(({ despatches }) => despatches.length > 0)
  expect(told.length).toBe(labels.length)
  expect(told.every(({ state }) => state === 'DESPATCHED')).toBe(true)
  expect(await rig.mails()).toHaveLength(0)
})

test('withdrawn at the marketplace in the middle of an import: it stops, says what to do, and goes on after', async () => {
  const before = (await ordersHere()).length
  await lane.tell(
    '/admin/orders',
    soundOrders(700)
      .slice(260)
      .map((order, i) => asLaneOrder(order, 260 + i)),
  )
  await lane.tell('/admin/tokens', { accessSeconds: 1 })
  expect(await authorise()).toMatchObject({ result: 'done' })
  await lane.tell('/admin/faults', { latencyMs: 900 })
  await requestImport(rig.gharry, 'tallow-lane')
  const running = workImport(rig.gharry)
  await new Promise((resolve) => setTimeout(resolve, 1200))
  await lane.tell('/admin/authorisations', { withdrawn: true })
  await running
  await lane.tell('/admin/faults', { latencyMs: 0 })
  // Where it was too slow to be refused, it is tried once more.
  rig.put(5)
  await workImport(rig.gharry)
  await rig.note()
  const half = (await ordersHere()).length
  expect(half).toBeGreaterThanOrEqual(before)
  expect(half).toBeLessThan(700)
  expect((await view()).health).toMatchObject({ state: 'ended', sentence: /authorise it again/ })
  await lane.tell('/admin/tokens', { accessSeconds: 300 })
  expect(await authorise()).toMatchObject({ result: 'done' })
  await rig.workAll()
  expect((await ordersHere()).length).toBe(700)
  await rig.note()
  expect((await view()).health.state).toMatch(/^(works|slow)$/)
})

test('it is said before it ends; a new address takes neither secret nor tokens along', async () => {
  expect(await authorise({ answer: 'allow', country: 'BE', days: '9' })).toMatchObject({ result: 'done' })
  expect((await view()).health).toMatchObject({ state: 'ends soon', sentence: /in 9 days/ })
  const { version } = await view()
  const elsewhere = { ...input().settings, address: 'http://127.0.0.1:9', clientSecret: '' }
  expect(await saveConnection(rig.gharry, 'tallow-lane', input({ settings: elsewhere, version }))).toMatchObject({
    fields: { clientSecret: /Enter the secret/ },
  })
  expect(
    await saveConnection(rig.gharry, 'tallow-lane', input({ settings: { ...elsewhere, clientSecret: 'x' }, version })),
  ).toMatchObject({ ok: true })
  expect((await connectionById(rig.gharry.db, 'tallow-lane'))!.tokens).toBeNull()
})
