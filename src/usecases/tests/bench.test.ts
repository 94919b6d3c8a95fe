import type { World } from '@/core/world'
import { demoRulebook } from '../../../demo/rulebook'
import { demoWorld } from '../../../demo/world'
import { checksOfOrder, logOf, ordersById, scansOf } from '@/data'
import { buyAtBench, offerAtBench } from '../dispatch/bench/buyAtBench'
import { putParcelAside, scanItems, undoLast, weighParcel } from '../dispatch/bench/checkParcel'
import { openParcel } from '../dispatch/bench/openParcel'
import { showBench } from '../dispatch/bench/showBench'
import type { BenchView } from '../dispatch/bench/benchView'
import { dispatchBatch } from '../dispatch/dispatchLabels'
import { requestVoid } from '../dispatch/voidLabel'
import { showItems } from '../intake/items'
import { requestImport } from '../intake/importOrders'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

/* A bench: parcels are opened by scan, filled by scan, weighed, put aside, and handed over only when they were checked. */
let rig: Rig
afterEach(() => rig.close())

const gtin = '2000000000015'
const asked = (more: Partial<World['locations'][number]>): World => ({
  ...demoWorld,
  locations: demoWorld.locations.map((location) => ({ ...location, ...more })),
  items: demoWorld.items.map((card, i) => (i === 0 ? { ...card, gtins: [gtin] } : card)),
})

async function begin(count: number, more: Partial<World['locations'][number]> = {}): Promise<number> {
  rig = await makeRig({ rulebook: demoRulebook, world: asked(more) })
  return buyReady(rig, soundOrders(count))
}
const open = (code: string, bench = 'Bench 1', take = false) => openParcel(rig.gharry, { bench, code, take })
const opened = async (code: string, bench = 'Bench 1'): Promise<BenchView> => {
  const answer = await open(code, bench)
  if (!answer.ok) throw new Error(answer.sentence)
  return answer.view
}
let keys = 0
const scan = (check: number, code: string, typed: number | null = null, key = `scan number ${++keys}`) =>
  scanItems(rig.gharry, { check, scans: [{ key, code, typed, at: rig.gharry.now().toISOString() }] })
const fill = async (view: BenchView): Promise<void> => {
  for (const { sku, quantity } of view.parcel.lines)
    for (let i = 0; i < quantity; i++)
      expect(await scan(view.check, sku)).toMatchObject({ ok: true, verdicts: ['right'] })
}

test('where several parcels are open, an item opens none; an order number, a label or a tote does', async () => {
  await begin(6)
  const single = (await rig.orders()).find(({ quantity }) => quantity === 1)!
  const [stored] = await ordersById(rig.gharry.db, [single.id])
  const { sku } = stored!.order.items[0]!
  const several = (code: string) => openParcel(rig.gharry, { bench: 'Bench 1', code, take: false, items: false })
  expect(await several(sku)).toMatchObject({ ok: false, code: 'not-found' })
  expect(await open(sku)).toMatchObject({ ok: true })
  expect(await several(single.number)).toMatchObject({ ok: true, view: { number: single.number } })
})

test('a parcel is opened by slip or label, filled by scan, and checked when all is in it; every scan is written down', async () => {
  await begin(4)
  const [label] = await rig.labels()
  const [order] = (await rig.orders()).filter(({ id }) => id === label!.orderId)
  const bySlip = await opened(order!.number.toLowerCase())
  const byLabel = await opened(label!.trackingNumber!)
  expect(byLabel.check).toBe(bySlip.check)
  expect(await scan(bySlip.check, 'NOTHING-OF-THIS')).toMatchObject({ verdicts: ['wrong'], view: { state: 'open' } })
  const [line] = bySlip.parcel.lines
  expect(await scan(bySlip.check, line!.sku)).toMatchObject({ view: { state: 'done' } })
  // The last scan made it whole; taken back, the parcel is open once more.
  expect(await undoLast(rig.gharry, bySlip.check)).toMatchObject({
    view: { counted: bySlip.parcel.lines.map(() => 0) },
  })
  await fill(bySlip)
  expect(await scan(bySlip.check, line!.sku)).toMatchObject({ ok: true })
  const [check] = await checksOfOrder(rig.gharry.db, order!.id)
  expect(check).toMatchObject({ state: 'done', bench: 'Bench 1' })
  expect((await scansOf(rig.gharry.db, check!.id)).map(({ verdict }) => verdict).slice(0, 2)).toEqual([
    'wrong',
    'undone',
  ])
  expect((await logOf(rig.gharry.db, order!.id)).some(({ sentence }) => /was checked at Bench 1/.test(sentence))).toBe(
    true,
  )
  expect(await showBench(rig.gharry, 'Bench 1')).toMatchObject({ checked: 1 })
  // The same label once more is a parcel too many.
  expect(await open(label!.trackingNumber!)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/checked already/),
  })
})

test('what cannot be opened says why', async () => {
  await begin(3)
  const [label] = await rig.labels()
  for (const [code, why] of [
    ['', /Nothing was read/],
    ['https://mossgill.example/1', /link to a page/],
    ['x'.repeat(10_000), /10000 characters/],
    ['NO-SUCH-NUMBER', /is no order, label or item/],
  ] as const)
    expect(await open(code)).toMatchObject({ ok: false, sentence: expect.stringMatching(why) })
  await requestVoid(rig.gharry, label!.id)
  await rig.workAll()
  expect(await open(label!.trackingNumber!)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/voided: put the parcel aside/),
  })
})

test('two benches never pack one parcel: the other one is asked, and what is scanned at the first counts no more', async () => {
  await begin(2)
  const [label] = await rig.labels()
  const first = await opened(label!.trackingNumber!)
  expect(await open(label!.trackingNumber!, 'Bench 2')).toMatchObject({
    ok: false,
    code: 'under-way',
    sentence: expect.stringMatching(/Bench 1 has/),
  })
  const both = await Promise.all([
    open(label!.trackingNumber!, 'Bench 2', true),
    open(label!.trackingNumber!, 'Bench 3', true),
  ])
  expect(both.filter(({ ok }) => ok).length).toBeGreaterThan(0)
  const live = (await checksOfOrder(rig.gharry.db, label!.orderId)).filter(({ state }) => state === 'open')
  expect(live).toHaveLength(1)
  expect(await scan(first.check, first.parcel.lines[0]!.sku)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/taken over/),
  })
})

test('scans that were kept while the line was down are sent in one go, and sent again they are the same', async () => {
  await begin(2)
  const [label] = await rig.labels()
  const view = await opened(label!.trackingNumber!)
  const codes = view.parcel.lines.flatMap(({ sku, quantity }) => Array.from({ length: quantity }, () => sku))
  const scans = ['WRONG-ONE', ...codes].map((code, i) => ({
    ...{ key: `kept scan ${i}`, code, typed: null, at: '2026-11-28T10:00:00.000Z' },
  }))
  const sent = await scanItems(rig.gharry, { check: view.check, scans })
  expect(sent).toMatchObject({ ok: true, view: { state: 'done' }, verdicts: ['wrong', ...codes.map(() => 'right')] })
  expect(await scanItems(rig.gharry, { check: view.check, scans })).toMatchObject({ ok: true, view: { state: 'done' } })
  expect(await scansOf(rig.gharry.db, view.check)).toHaveLength(scans.length)
})

test('where parcels are weighed, one that is off is asked about, and taken with a reason', async () => {
  await begin(2, { weighed: true })
  const [label] = await rig.labels()
  const view = await opened(label!.trackingNumber!)
  await fill(view)
  expect(await checksOfOrder(rig.gharry.db, label!.orderId)).toMatchObject([{ state: 'open' }])
  const weigh = (grams: number, why = '') => weighParcel(rig.gharry, { check: view.check, grams, why })
  for (const grams of [0, -50, 2.5, NaN]) expect(await weigh(grams)).toMatchObject({ ok: false, code: 'bad-value' })
  expect(await weigh(view.computed * 2)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/missing, or too much/),
  })
  expect(await weigh(view.computed * 2, 'a heavier pot')).toMatchObject({ ok: true, view: { state: 'done' } })
  expect(await checksOfOrder(rig.gharry.db, label!.orderId)).toMatchObject([
    { weight: view.computed * 2, why: 'a heavier pot' },
  ])
})

test('a parcel that is put aside is asked about until it is checked; a location that asks for checks hands over no other', async () => {
  const batch = await begin(3, { checked: true })
  const [label, second] = await rig.labels()
  expect(await dispatchBatch(rig.gharry, batch)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/not checked/),
  })
  const view = await opened(label!.trackingNumber!)
  expect(await putParcelAside(rig.gharry, { check: view.check, why: ' ' })).toMatchObject({ ok: false })
  await putParcelAside(rig.gharry, { check: view.check, why: 'a pot is broken' })
  expect((await showBench(rig.gharry, 'Bench 1')).aside).toMatchObject([
    { number: view.number, why: 'a pot is broken' },
  ])
  await fill(await opened(label!.trackingNumber!))
  expect((await showBench(rig.gharry, 'Bench 1')).aside).toEqual([])
  expect(await dispatchBatch(rig.gharry, batch)).toMatchObject({ ok: true, dispatched: 1, unchecked: 2 })
  expect((await rig.labels()).find(({ id }) => id === second!.id)?.dispatchedAt).toBeNull()
})

test('an item opens the order that has waited longest for it alone, by SKU or GTIN', async () => {
  const sku = demoWorld.items[0]!.sku
  rig = await makeRig({ rulebook: demoRulebook, world: asked({}) })
  const orders = soundOrders(3).map((order) => ({
    ...order,
    lines: order.lines.slice(0, 1).map((line) => ({ ...line, sku, quantity: 1 })),
  }))
  await buyReady(rig, orders)
  const first = await opened(gtin)
  expect(await scan(first.check, gtin)).toMatchObject({ ok: true, view: { state: 'done' } })
  const second = await opened(sku)
  expect(second.order).not.toBe(first.order)
  expect(await scan(second.check, `(01)0${gtin}(10)LOT7`)).toMatchObject({ ok: true, view: { state: 'done' } })
})

test('an order without a label is bought at the bench for the price that was seen, and opened at once', async () => {
  rig = await makeRig({ rulebook: demoRulebook, world: asked({}) })
  await rig.stockShop(soundOrders(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [order] = await rig.orders()
  expect(await open(order!.number)).toMatchObject({ ok: false, code: 'nothing-to-buy' })
  const offer = await offerAtBench(rig.gharry, order!.number)
  if (!offer.ok) throw new Error(offer.sentence)
  expect(offer.cost).toBe(order!.cost)
  const buy = (expected: number) => buyAtBench(rig.gharry, { bench: 'Bench 1', code: order!.number, expected })
  expect(await buy(offer.cost + 1)).toMatchObject({ ok: false, code: 'total-moved' })
  const [bought] = await Promise.all([buy(offer.cost), worked()])
  expect(bought).toMatchObject({ ok: true, view: { number: order!.number, state: 'open' } })
  expect(await buy(offer.cost)).toMatchObject({ ok: false, sentence: expect.stringMatching(/already/) as string })
  expect(await offerAtBench(rig.gharry, 'NOTHING')).toMatchObject({ ok: false, code: 'unknown-order' })
  expect((await rig.carrierLabels()).length).toBe(1)
})

test('what scales show again and again is proposed as the weight of an item', async () => {
  const sku = demoWorld.items[0]!.sku
  rig = await makeRig({ rulebook: demoRulebook, world: asked({ weighed: true }) })
  await buyReady(
    rig,
    soundOrders(4).map((order) => ({
      ...order,
      lines: order.lines.slice(0, 1).map((line) => ({ ...line, sku, quantity: 1, weight_grams: 180 })),
    })),
  )
  for (let i = 0; i < 3; i++) {
    const view = await opened(sku)
    await scan(view.check, sku)
    await weighParcel(rig.gharry, { check: view.check, grams: view.computed + 60, why: 'a heavier pot' })
  }
  const { learned } = (await showItems(rig.gharry, ''))!
  expect(learned).toMatchObject([{ sku, after: 240 }])
})

/** The worker, while somebody waits at a bench. */
async function worked(): Promise<void> {
  for (let i = 0; i < 20 && !(await rig.labels()).some(({ state }) => state === 'bought'); i++) {
    await new Promise((resolve) => setTimeout(resolve, 50))
    await rig.workAll()
  }
}
