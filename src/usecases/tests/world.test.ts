import { minorUnits } from '@/core/units'
import { csvFile, xlsxFile } from '@/adapters'
import { itemColumns } from '@/core/order'
import { tariffColumns, writeTariffTable } from '@/core/rating'
import { newestWorld } from '@/data'
import { requestImport } from '@/usecases/intake/importOrders'
import { exploreRates } from '@/usecases/ledger/exploreRates'
import { exportItems, previewItems, showItems, takeItems, takeLearned } from '@/usecases/intake/items'
import { learnWorld } from '@/usecases/worker/learnWorld'
import { correctAddress, readBlock, showAddress } from '@/usecases/desk/correctAddress'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { changeList } from '@/usecases/setup/changeList'
import { setDemand } from '@/usecases/setup/demands'
import { showSetup } from '@/usecases/setup/showSetup'
import { exportTariffs, previewTariffs, removeTariff, showTariffs, takeTariffs } from '@/usecases/ledger/tariffs'
import { demoTariffs } from '../../../demo/carriers'
import { demoWorld } from '../../../demo/world'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
  // Nine in the morning: which service is chosen turns at each depot's time of collection.
  const morning = new Date(rig.gharry.now())
  morning.setUTCHours(33, 0, 0, 0)
  rig.put((morning.getTime() - rig.gharry.now().getTime()) / 60_000)
})
afterEach(() => rig.close())

async function importNow(orders = soundOrders(6)): Promise<void> {
  // Of yesterday, so that they are among last month's.
  const placedAt = new Date(rig.gharry.now().getTime() - 86_400_000).toISOString()
  await rig.stockShop(orders.map((order) => ({ ...order, placed_at: placedAt })))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
}
const road = demoTariffs.find(({ service, from }) => service === 'heron-road' && from === '2026-10-01')!
const dearer = (by: number) => ({
  ...road,
  zones: {
    ...road.zones,
    R1: { bands: road.zones.R1!.bands.map((band) => ({ ...band, price: minorUnits(band.price + by) })) },
  },
})

test('a tariff file is looked at before it counts: what differs, and what last month’s orders would cost', async () => {
  await importNow()
  const before = (await rig.orders()).filter(({ service }) => service === 'heron-road')
  for (const content of [
    csvFile(tariffColumns, writeTariffTable([dearer(100)])),
    await xlsxFile('T', tariffColumns, writeTariffTable([dearer(100)])),
  ]) {
    const preview = await previewTariffs(rig.gharry, content)
    if (!preview.ok) throw new Error(preview.sentence)
    expect(preview).toMatchObject({ tariffs: 1, problems: [] })
    expect(preview.differences).toHaveLength(5)
    expect(preview.differences[0]).toMatchObject({ what: 'zone R1 up to 2 kg', before: '4.90', after: '5.90' })
    expect(preview.effect!.summary.costDifference).toBeGreaterThan(0)
    expect(preview.effect!.summary.lines.base).toBeGreaterThan(preview.effect!.summary.lines.fuel!)
  }
  const { version } = (await showTariffs(rig.gharry))!
  const file = csvFile(tariffColumns, writeTariffTable([dearer(100)]))
  expect(await takeTariffs(rig.gharry, file, version + 9)).toMatchObject({ ok: false, code: 'world-changed' })
  expect(await takeTariffs(rig.gharry, file, version)).toMatchObject({ ok: true })
  await rig.workAll()
  for (const order of before) expect((await rig.orders()).find(({ id }) => id === order.id)!.cost).not.toBe(order.cost)
  expect(await previewTariffs(rig.gharry, (await exportTariffs(rig.gharry, 'xlsx', ''))!)).toMatchObject({
    ok: true,
    differences: [],
    effect: null,
  })
  expect(await removeTariff(rig.gharry, 'heron-road', '2026-10-01', version + 1)).toMatchObject({ ok: true })
})

test('files that make no sense are refused with the place, and nothing changes', async () => {
  await importNow(soundOrders(1))
  const text = csvFile(tariffColumns, writeTariffTable([road])).toString()
  expect(await previewTariffs(rig.gharry, Buffer.from(text.replace('2 kg', 'two')))).toMatchObject({
    ok: true,
    problems: [{ line: 3, column: 'weight' }],
    effect: null,
  })
  expect(await takeTariffs(rig.gharry, Buffer.from(text.replace('2 kg', 'two')), 1)).toMatchObject({
    ok: false,
    sentence: expect.stringMatching(/^Line 3, weight: /) as string,
  })
  expect(await previewTariffs(rig.gharry, Buffer.from('a,b\n1,2\n'))).toMatchObject({ ok: false, code: 'bad-file' })
  expect(await previewTariffs(rig.gharry, Buffer.from('PK\u0003\u0004 no spreadsheet'))).toMatchObject({
    ok: false,
    code: 'bad-file',
  })
  expect(await previewTariffs(rig.gharry, Buffer.alloc(0))).toMatchObject({ ok: false, sentence: 'The file is empty.' })
  expect(await previewTariffs(rig.gharry, Buffer.from(text.replace('5 kg', '1 kg')))).toMatchObject({
    ok: true,
    findings: [expect.objectContaining({ severity: 'error' })],
    effect: null,
  })
})

test('rates are compared for any parcel, to any place', async () => {
  const asked = {
    location: 'ghent',
    country: 'Norway',
    postcode: '9170',
    parcels: 1,
    weight: 2000,
    size: [300, 200, 100] as const,
    residential: true,
    postOfficeBox: false,
    signature: false,
    insured: 0,
    needs: [],
    dangerousGoods: [],
    day: '2026-11-25',
    time: '10:00',
  }
  const found = await exploreRates(rig.gharry, asked)
  if (!found.ok) throw new Error(found.sentence)
  expect(found.quotes.map(({ cost }) => cost)).toEqual([...found.quotes.map(({ cost }) => cost)].sort((a, b) => a - b))
  expect(found.quotes[0]!.marks).toContain('cheapest')
  expect(found.quotes.length + found.refusals.length).toBe(9)
  expect(found.curve.services.length).toBeGreaterThan(1)
  for (const more of [
    { weight: 2_000_000 },
    { size: [10_000, 10, 10] as const },
    { weight: 0, size: [1, 1, 1] as const },
  ])
    expect((await exploreRates(rig.gharry, { ...asked, ...more })).ok).toBe(true)
  expect(await exploreRates(rig.gharry, { ...asked, country: 'Atlantis' })).toMatchObject({
    ok: false,
    code: 'unknown-country',
  })
})

test('holidays and punctuality are learned once, and make no new world when nothing is new', async () => {
  await learnWorld(rig.gharry)
  const first = (await newestWorld(rig.gharry.db))!
  expect(first.world.holidays!.find(({ country }) => country === 'BE')!.days).toContain('2026-12-25')
  await learnWorld(rig.gharry)
  expect((await newestWorld(rig.gharry.db))!.version).toBe(first.version)
})

test('items: a file corrections weights in the list and in waiting orders at once; what is missing stands first', async () => {
  const orders = soundOrders(6)
  await importNow([
    ...orders,
    {
      ...orders[0]!,
      id: 'new',
      number: 'MG-NEW',
      lines: [
        { ...orders[0]!.lines[0]!, sku: 'NEW-1', title: 'New', weight_grams: 0, size_mm: [], hs_code: '', origin: '' },
      ],
    },
  ])
  const view = (await showItems(rig.gharry, ''))!
  expect(view.items[0]).toMatchObject({
    row: { sku: 'NEW-1' },
    unlisted: true,
    use: { waiting: 1 },
    missing: ['weight', 'size', 'HS code', 'origin'],
  })
  expect((await rig.orders()).find(({ number }) => number === 'MG-NEW')!.state).toBe('attention')
  const { sku } = orders[1]!.lines[0]!
  const file = csvFile(itemColumns, [
    { sku, weight: '1.2 kg' },
    { sku: 'NEW-1', title: 'New', weight: '400 g', length: '20 cm', width: '10 cm', height: '5 cm' },
  ])
  const preview = await previewItems(rig.gharry, file)
  expect(preview).toMatchObject({
    ok: true,
    added: ['NEW-1'],
    problems: [],
    changed: [{ sku, column: 'weight', after: '1.2 kg' }],
  })
  expect(await takeItems(rig.gharry, file, view.version)).toMatchObject({ ok: true })
  await rig.workAll()
  const now = await rig.orders()
  expect(now.find(({ number }) => number === orders[1]!.number)!.weight!).toBeGreaterThan(1200)
  expect(now.find(({ number }) => number === 'MG-NEW')!.state).toBe('ready')
  expect(await previewItems(rig.gharry, (await exportItems(rig.gharry, 'xlsx'))!)).toMatchObject({
    ok: true,
    added: [],
    changed: [],
  })
  expect(await takeItems(rig.gharry, Buffer.from('sku,weight\nA,heavy\n'), view.version + 1)).toMatchObject({
    ok: false,
    code: 'bad-item',
  })
})

test('corrections of people that agree become the item’s weight, and waiting orders have it in one go', async () => {
  const [first] = soundOrders(1)
  await importNow(
    [1, 2, 3, 4].map((n) => ({
      ...first!,
      id: `w${n}`,
      number: `MG-W${n}`,
      lines: [{ ...first!.lines[0]!, quantity: n }],
    })),
  )
  const { sku, weight_grams } = first!.lines[0]!
  for (const [i, order] of (await rig.orders()).slice(0, 3).entries())
    await pinDecision(rig.gharry, order.id, 'weight', 200 * (i + 1))
  const view = (await showItems(rig.gharry, ''))!
  expect(view.learned).toMatchObject([{ sku, before: weight_grams, after: weight_grams + 200, against: 0 }])
  expect(await takeLearned(rig.gharry, sku, view.version)).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await showItems(rig.gharry, ''))!.learned).toEqual([])
  const facts = (await rig.gharry.db('order_facts').select('facts')) as { facts: string }[]
  expect(
    facts.map((row) => (JSON.parse(row.facts) as { items: { unitWeight: number }[] }).items[0]!.unitWeight),
  ).toEqual(new Array(4).fill(weight_grams + 200))
  expect(await rig.gharry.db('hand_pins').where({ decision: 'weight' })).toEqual([])
})

test('an address is corrected once and remembered; used as it is, it is in nobody’s way', async () => {
  const [first] = soundOrders(1)
  const bad = {
    ...first!,
    id: 'bad',
    number: 'MG-BAD',
    ship_to: {
      ...first!.ship_to,
      street: ['Coupure Links 88', 'mail: noor@vanacker.example'],
      postcode: 'B-9000',
      city: 'Gent',
    },
  }
  await importNow([bad])
  const [order] = await rig.orders()
  expect(order).toMatchObject({
    state: 'attention',
    problem: expect.stringContaining('e-mail address is in the address') as string,
  })
  const view = (await showAddress(rig.gharry, order!.id))!
  expect(view.problems.map(({ code }) => code)).toEqual(['address-email', 'address-postcode'])
  expect(view.proposed).toMatchObject({ lines: ['Coupure Links 88'], postcode: '9000' })
  expect(await correctAddress(rig.gharry, order!.id, view.proposed)).toMatchObject({ ok: true, problems: [] })
  expect((await rig.orders())[0]!.state).toBe('ready')
  // The same order again is no change, and another one with the same address is corrected from the start.
  await importNow([
    bad,
    { ...bad, id: 'again', number: 'MG-AGAIN' },
    {
      ...bad,
      id: 'villa',
      number: 'MG-VILLA',
      ship_to: { ...bad.ship_to, street: ['Villa Zonnedauw'], postcode: '9000' },
    },
  ])
  const [, again, villa] = await rig.orders()
  expect([again!.state, villa!.state]).toEqual(['ready', 'attention'])
  expect(await correctAddress(rig.gharry, villa!.id, null)).toMatchObject({ ok: true })
  expect((await rig.orders())[2]!.state).toBe('ready')
  expect(await correctAddress(rig.gharry, villa!.id, { ...view.proposed!, country: 'Atlantis' })).toMatchObject({
    ok: false,
    code: 'unknown-country',
  })
  expect(readBlock('Noor\nCoupure 8\n9000 Gent', 'BE').address).toMatchObject({ city: 'Gent' })
})

test('services are changed by people, and channels demand of all of them', async () => {
  await importNow()
  const road = (await showSetup(rig.gharry)).services.find(({ id }) => id === 'heron-road')!
  const change = (after: object) =>
    changeList(rig.gharry, { list: 'services', before: { ...road }, after: { ...after } })
  expect(await change({ ...road, limits: { ...road.limits, weight: 1 } })).toMatchObject({ ok: true })
  await rig.workAll()
  expect((await rig.orders()).some(({ service }) => service === 'heron-road')).toBe(false)
  const demand = { channel: 'mossgill-shop', offers: ['tracking'], byPromise: true } as const
  expect(await setDemand(rig.gharry, demand)).toMatchObject({ ok: true })
  await rig.workAll()
  // Its promises are long past, so nothing can keep them.
  expect((await rig.orders()).every(({ service }) => service === null)).toBe(true)
  // The shop bears claims for one service alone.
  const morning = (await showSetup(rig.gharry)).services.find(({ id }) => id === 'heron-morning')!
  const borne = { ...morning, claimsBorneBy: ['mossgill-shop'] }
  expect(await changeList(rig.gharry, { list: 'services', before: { ...morning }, after: { ...borne } })).toMatchObject(
    { ok: true },
  )
  expect(await setDemand(rig.gharry, { channel: 'mossgill-shop', protected: true })).toMatchObject({ ok: true })
  await rig.workAll()
  expect(new Set((await rig.orders()).map(({ service }) => service))).toEqual(new Set(['heron-morning']))
  // It knows one carrier alone, and then any.
  expect(await setDemand(rig.gharry, { channel: 'mossgill-shop', carriers: ['northlight'] })).toMatchObject({
    ok: true,
  })
  await rig.workAll()
  expect(new Set((await rig.orders()).map(({ carrier }) => carrier))).toEqual(new Set(['northlight']))
  expect(await setDemand(rig.gharry, { channel: 'mossgill-shop', carriers: [] })).toMatchObject({ ok: true })
  await rig.workAll()
  expect(new Set((await rig.orders()).map(({ carrier }) => carrier))).not.toContain('northlight')
  expect((await showSetup(rig.gharry)).demands).toEqual(demoWorld.demands)
})
