import { formatMoney, money } from '@/core/units'
import type { World } from '@/core/world'
import { changeList, previewList, showUses } from '@/usecases/setup/changeList'
import { showOwnServices, takeOwnServices } from '@/usecases/setup/carriersOwn'
import type { ListName } from '@/usecases/setup/lists'
import { saveSeller } from '@/usecases/setup/seller'
import { showSetup } from '@/usecases/setup/showSetup'
import { readZoneFile } from '@/usecases/setup/zoneFile'
import { showOrder } from '@/usecases/desk/showOrder'
import { typeOrder } from '@/usecases/desk/typeOrder'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { saveConnection } from '@/usecases/intake/connections'
import { requestImport } from '@/usecases/intake/importOrders'
import { learnWorld } from '@/usecases/worker/learnWorld'
import { workBySchedule } from '@/usecases/worker/work'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

async function importNow(n = 6): Promise<void> {
  await rig.stockShop(soundOrders(n))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
}

type Listed = Record<string, unknown>
const put = (list: ListName, before: object | null, after: object | null) =>
  changeList(rig.gharry, { list, before: before as Listed | null, after: after as Listed | null })
const serviceNamed = async (id: string): Promise<World['services'][number]> =>
  (await showSetup(rig.gharry)).services.find((service) => service.id === id)!

test('a change shows what it would do to the waiting orders, and does that when it is saved', async () => {
  await importNow(12)
  const road = await serviceNamed('heron-road')
  const smaller = { ...road, limits: { ...road.limits, weight: 1 } }
  const before = new Map((await rig.orders()).map(({ id, service }) => [id, service]))
  const preview = await previewList(rig.gharry, { list: 'services', before: { ...road }, after: smaller })
  if (!preview.ok || !preview.effect) throw new Error('no preview')
  expect(preview.effect.summary.orders).toBe(12)
  expect(preview.effect.summary.serviceChanges).toBeGreaterThan(0)
  // Nothing is written yet.
  expect(new Map((await rig.orders()).map(({ id, service }) => [id, service]))).toEqual(before)
  expect(await put('services', road, smaller)).toMatchObject({ ok: true })
  await rig.workAll()
  const after = await rig.orders()
  for (const { id, after: told } of preview.effect.changes)
    expect(after.find((order) => order.id === id)).toMatchObject({ service: told.service, cost: told.cost })
  expect(after.filter(({ id, service }) => service !== before.get(id))).toHaveLength(
    preview.effect.summary.serviceChanges,
  )
})

test('two people who change the same service: the second is told, and nothing is lost; other services are free', async () => {
  const [road, post] = [await serviceNamed('heron-road'), await serviceNamed('corvid-letter')]
  expect(await put('services', road, { ...road, name: 'Road one' })).toMatchObject({ ok: true })
  expect(await put('services', post, { ...post, name: 'Letters' })).toMatchObject({ ok: true })
  expect(await put('services', road, { ...road, name: 'Road two' })).toMatchObject({
    ok: false,
    code: 'world-changed',
    sentence: expect.stringContaining('Road one') as string,
  })
  expect((await serviceNamed('heron-road')).name).toBe('Road one')
  // Deleted meanwhile.
  const carriers = await put('carriers', null, { id: '', name: 'Plover Post' })
  if (!carriers.ok) throw new Error(carriers.sentence)
  expect(await put('carriers', carriers.thing as object, null)).toMatchObject({ ok: true })
  expect(
    await put('carriers', carriers.thing as object, { ...(carriers.thing as object), name: 'Plover' }),
  ).toMatchObject({
    code: 'world-changed',
  })
})

test.each<[ListName, object, RegExp]>([
  ['carriers', { id: '', name: '' }, /name/],
  ['locations', { id: '', name: 'A', country: 'XX', timeZone: 'Europe/Brussels' }, /no country code/],
  ['locations', { id: '', name: 'A', country: 'BE', timeZone: 'Mars/Olympus' }, /no time zone/],
  ['presets', { id: '', name: 'A', inner: [10, 10, 10], outer: [9, 20, 20], tare: 0, limit: 1 }, /bigger inside/],
  ['presets', { id: '', name: 'A', inner: [10, 10, 0], outer: [9, 20, 20], tare: 0, limit: 1 }, /inner/],
  [
    'outages',
    { id: '', what: 'carrier', of: 'nobody', from: '2026-11-27T10:00:00Z', until: '2026-11-28T10:00:00Z', note: '' },
    /no carrier/,
  ],
  [
    'outages',
    { id: '', what: 'carrier', of: 'heron', from: '2026-11-28T10:00:00Z', until: '2026-11-27T10:00:00Z', note: '' },
    /ends before/,
  ],
  [
    'tariffs',
    {
      service: 'nothing',
      from: '2026-01-01',
      until: null,
      currency: 'EUR',
      basis: 'parcel',
      dimensionalDivisor: null,
      roundUpTo: 1,
      discountPermille: 0,
      zones: {},
      surcharges: [],
    },
    /no service/,
  ],
])('%s: %j is refused with a reason', async (list, thing, sentence) => {
  const address = { company: 'A', lines: ['B 1'], postcode: '1', city: 'C', phone: '' }
  const given = list === 'locations' ? { ...thing, address } : thing
  expect(await put(list, null, given)).toMatchObject({ ok: false, sentence: expect.stringMatching(sentence) as string })
})

test('a marketplace’s codes say which carriers it knows; other channels take any', async () => {
  const carrierCodes = 'Heron = HRN\ncorvid = CVD\nnobody = NBD'
  const saved = await saveConnection(rig.gharry, null, {
    ...{ role: 'channel', kind: 'authorised-market', name: 'Tallow Lane', on: true },
    settings: { address: 'http://127.0.0.1:1', clientId: 'gharry', clientSecret: 'a-secret', carrierCodes },
  })
  expect(saved).toMatchObject({ ok: true })
  const { channels } = await showSetup(rig.gharry)
  expect(channels.map(({ name, codes }) => [name, codes])).toEqual([
    ['Mossgill Shop', null],
    ['Tallow Lane', ['heron', 'corvid']],
    ['Trade Desk', null],
  ])
})

test('a service names what there is', async () => {
  const road = await serviceNamed('heron-road')
  expect(await put('services', road, { ...road, locations: ['atlantis'] })).toMatchObject({ code: 'bad-value' })
  expect(await put('services', road, { ...road, limits: { ...road.limits, weight: -1 } })).toMatchObject({
    code: 'bad-value',
  })
  expect(await put('services', null, road)).toMatchObject({ code: 'taken' })
  expect(await put('services', null, { ...road, id: 'x', carrier: 'nobody' })).toMatchObject({
    sentence: expect.stringContaining('no carrier') as string,
  })
})

test('what rules name is neither deleted nor retired; what is used elsewhere or in the past, not deleted', async () => {
  await importNow(3)
  const view = await showSetup(rig.gharry)
  const plants = view.presets.find(({ id }) => id === 'box-plants')!
  const uses = await showUses(rig.gharry, 'presets', 'box-plants')
  expect(uses.rules.length).toBeGreaterThan(0)
  for (const after of [null, { ...plants, retired: true }])
    expect(await put('presets', plants, after)).toMatchObject({
      code: 'in-use',
      sentence: expect.stringContaining(uses.rules[0]!) as string,
    })
  const heron = view.carriers.find(({ id }) => id === 'heron')!
  expect(await put('carriers', heron, null)).toMatchObject({ code: 'in-use' })
  const [order] = await rig.orders()
  const plan = await planBatch(rig.gharry, [order!.id])
  await buyBatch(rig.gharry, [order!.id], plan.total)
  await rig.workAll()
  const { service } = (await rig.labels())[0]!
  const bought = await serviceNamed(service)
  if ((await showUses(rig.gharry, 'services', service)).rules.length === 0) {
    expect(await put('services', bought, null)).toMatchObject({
      sentence: expect.stringContaining('retire it') as string,
    })
    expect(await put('services', bought, { ...bought, retired: true })).toMatchObject({ ok: true })
    await rig.workAll()
    expect((await rig.orders()).filter((each) => each.state === 'ready' && each.service === service)).toEqual([])
  }
})

test('an outage takes orders another way from its beginning, and back when it is over', async () => {
  // Before the outage is tried: the worker would learn of a holiday between trying it and its beginning.
  await learnWorld(rig.gharry)
  await importNow(12)
  const first = new Map((await rig.orders()).map(({ id, service }) => [id, service]))
  const now = rig.gharry.now()
  const at = (hours: number): string => new Date(now.getTime() + hours * 3_600_000).toISOString()
  const outage = { id: '', what: 'carrier', of: 'heron', from: at(1), until: at(5), note: 'Strike' }
  const preview = await previewList(rig.gharry, { list: 'outages', before: null, after: outage })
  if (!preview.ok || !preview.effect) throw new Error('no preview')
  const moved = preview.effect.changes.filter(({ before, after }) => before.service !== after.service)
  expect(moved.length).toBeGreaterThan(0)
  expect(await put('outages', null, outage)).toMatchObject({ ok: true })
  await rig.workAll()
  const services = async () => new Map((await rig.orders()).map(({ id, service }) => [id, service]))
  expect((await services()).get(moved[0]!.id)).toBe(first.get(moved[0]!.id))
  rig.put(61)
  await workBySchedule(rig.gharry)
  await rig.workAll()
  for (const { id, after } of moved) expect((await services()).get(id)).toBe(after.service)
  expect((await rig.orders()).some(({ carrier, state }) => carrier === 'heron' && state === 'ready')).toBe(false)
  const told = JSON.stringify((await showOrder(rig.gharry, moved[0]!.id))!.refusals)
  expect(told).toMatch(/is switched off until \w+ \d+ \w+, \d\d:\d\d/)
  rig.put(5 * 60)
  await workBySchedule(rig.gharry)
  await rig.workAll()
  expect([...(await services()).values()].some((service) => service?.startsWith('heron'))).toBe(true)
  // An outage of the past takes no later re-routing away.
  const road = await serviceNamed('heron-road')
  await put('services', road, { ...road, limits: { ...road.limits, weight: 1 } })
  await workBySchedule(rig.gharry)
  await rig.workAll()
  expect((await rig.orders()).some(({ service }) => service === 'heron-road')).toBe(false)
})

test('a location that is switched off gives way to another', async () => {
  await importNow(12)
  const now = rig.gharry.now().getTime()
  const outage = {
    ...{ id: '', what: 'location', of: 'ghent', note: '' },
    from: new Date(now).toISOString(),
    until: new Date(now + 3_600_000).toISOString(),
  }
  expect(await put('outages', null, outage)).toMatchObject({ ok: true })
  await rig.workAll()
  const rows = await rig.orders()
  expect(rows.some(({ location }) => location === 'ghent')).toBe(false)
})

describe('on an empty database', () => {
  beforeEach(async () => {
    await rig.close()
    rig = await makeRig({ unconnected: true, empty: true })
  })

  test('everything is set up, in dollars, pounds and inches, to the first label', async () => {
    expect((await showSetup(rig.gharry)).done).toEqual({
      ...{ seller: false, location: false, carrier: false, service: false, preset: false, channel: false, rule: false },
    })
    const { seller } = await showSetup(rig.gharry)
    const own = {
      seller: { name: 'Thistledown Kites', mail: 'hello@thistledown.example', units: 'imperial', paper: 'Letter' },
      home: 'USD',
      micro: {},
    }
    expect(await saveSeller(rig.gharry, seller, own)).toMatchObject({ ok: true })
    const duluth = {
      ...{ id: '', name: 'Duluth', country: 'US', timeZone: 'America/Chicago' },
      address: {
        company: 'Thistledown Kites',
        lines: ['12 Canal Park Drive'],
        postcode: '55802',
        city: 'Duluth, MN',
        phone: '',
      },
    }
    expect(await put('locations', null, duluth)).toMatchObject({ ok: true, thing: { id: 'duluth' } })
    expect(await put('carriers', null, { id: '', name: 'Skua Air' })).toMatchObject({ thing: { id: 'skua-air' } })
    await rig.connectCarrier('skua-air', 'skua')
    const offered = await showOwnServices(rig.gharry, 'skua-air')
    if (!offered.ok) throw new Error(offered.sentence)
    // Only what begins where the seller is.
    expect(offered.services.map(({ id }) => id)).toEqual(['skua-us-ground', 'skua-us-world'])
    expect(await takeOwnServices(rig.gharry, 'skua-air', ['skua-us-ground'])).toMatchObject({ ok: true, taken: 1 })
    expect(await takeOwnServices(rig.gharry, 'skua-air', ['skua-us-ground'])).toMatchObject({ ok: false })
    const box = { id: '', name: 'Kite box', inner: [305, 229, 102], outer: [318, 241, 114], tare: 142, limit: 9072 }
    expect(await put('presets', null, box)).toMatchObject({ ok: true })
    const taken = await typeOrder(rig.gharry, {
      ...{ key: 'kite-order-1', number: '', email: '', phone: '', value: 4500, wording: '', promisedBy: '' },
      shipTo: {
        ...{ name: 'Ada Kowalski', company: '', lines: ['500 Third Street'], city: 'Minneapolis', postcode: '55401' },
        ...{ region: 'MN', country: 'US' },
      },
      items: [{ what: 'Delta kite', quantity: 1, weight: 567, size: [290, 150, 60] }],
    })
    if (!taken.ok) throw new Error(taken.sentence)
    const typed = taken.order
    const [order] = await rig.orders()
    expect(order).toMatchObject({ id: typed, state: 'ready', service: 'skua-us-ground', problem: null })
    const plan = await planBatch(rig.gharry, [typed])
    expect(plan.total).toBe(order!.cost)
    expect(await buyBatch(rig.gharry, [typed], plan.total)).toMatchObject({ ok: true })
    await rig.workAll()
    const [label] = await rig.labels()
    expect(label).toMatchObject({ state: 'bought', charged: plan.total })
    expect(JSON.stringify((await showOrder(rig.gharry, typed))!.log)).toContain(formatMoney(money(plan.total, 'USD')))
    expect(await saveSeller(rig.gharry, own as typeof seller, { ...own, home: 'EUR' })).toMatchObject({
      code: 'in-use',
    })
  })

  test('prices in a currency without a rate are named, and taken once there is one', async () => {
    const { seller } = await showSetup(rig.gharry)
    await saveSeller(rig.gharry, seller, { ...seller, home: 'GBP' })
    const address = { company: 'Aire Lamps', lines: ['Kouter 1'], postcode: '9000', city: 'Gent', phone: '' }
    await put('locations', null, { id: '', name: 'Ghent', country: 'BE', timeZone: 'Europe/Brussels', address })
    await put('carriers', null, { id: 'heron', name: 'Heron Parcel' })
    await rig.connectCarrier('heron', 'heron')
    const offered = async () => {
      const answer = await showOwnServices(rig.gharry, 'heron')
      return answer.ok ? answer.services.find(({ id }) => id === 'heron-road') : answer
    }
    expect(await offered()).toMatchObject({ priced: true, noRate: 'EUR', known: false })
    expect(await takeOwnServices(rig.gharry, 'heron', ['heron-road'])).toMatchObject({ ok: true, taken: 1 })
    expect((await showSetup(rig.gharry)).tariffs).toEqual([])
    const now = (await showSetup(rig.gharry)).seller
    await saveSeller(rig.gharry, now, { ...now, micro: { EUR: 860_000 } })
    expect(await offered()).toMatchObject({ noRate: null, known: false })
    expect(await takeOwnServices(rig.gharry, 'heron', ['heron-road'])).toMatchObject({ ok: true, taken: 1 })
    expect((await showSetup(rig.gharry)).services).toHaveLength(1)
    expect((await showSetup(rig.gharry)).tariffs.length).toBeGreaterThan(0)
    expect(await offered()).toMatchObject({ known: true })
  })

  test.each([
    ['JPY', 38],
    ['TND', 380],
  ])('a home currency with other minor units (%s) keeps the numbers as they were typed', async (home, cost) => {
    const box = {
      id: '',
      name: 'Box',
      inner: [300, 200, 100],
      outer: [310, 210, 110],
      tare: 100,
      limit: 9000,
      cost: 3800,
    }
    await put('presets', null, box)
    const { seller } = await showSetup(rig.gharry)
    expect(await saveSeller(rig.gharry, seller, { ...seller, home })).toMatchObject({ ok: true })
    expect((await showSetup(rig.gharry)).presets[0]!.cost).toBe(cost === 38 ? 38 : 38_000)
  })

  test.each([
    [{ home: 'EURO' }, /home/],
    [{ home: 'XXQ' }, /currency/],
    [{ micro: { GBP: 0 } }, /micro/],
    [{ micro: { QQQ: 5 } }, /currency/],
  ])('settings %j are refused', async (more, sentence) => {
    const { seller } = await showSetup(rig.gharry)
    expect(await saveSeller(rig.gharry, seller, { ...seller, ...more })).toMatchObject({
      ok: false,
      sentence: expect.stringMatching(sentence) as string,
    })
  })
})

test('zones come from a file, or the file says what is wrong', async () => {
  const file = (text: string) => readZoneFile(Buffer.from(text))
  expect(await file('zone;from;to;postcodes;days\nR1;BE;NL LU;;1\nR2;BE;DE;10 11;2\n')).toMatchObject({
    ok: true,
    rows: [
      { zone: 'R1', from: 'BE', to: 'NL LU', postcodes: '', days: '1' },
      { zone: 'R2', from: 'BE', to: 'DE', postcodes: '10 11', days: '2' },
    ],
  })
  expect(await file('zone,from,to,days\nR1,BE,Atlantis,1\n')).toMatchObject({
    sentence: expect.stringContaining('Line 2, to') as string,
  })
  expect(await file('zone,from,to\nR1,BE,NL\n')).toMatchObject({ sentence: expect.stringContaining('days') as string })
  expect(await file('zone,from,to,days\n')).toMatchObject({ code: 'empty-file' })
  expect(await file('')).toMatchObject({ code: 'bad-file' })
})
