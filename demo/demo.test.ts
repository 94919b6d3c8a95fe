import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { shopRawOrder } from '@/adapters'
import { readOrdersOf } from '@/adapters/channels/sftp-folder/files'
import { withAddressChecked } from '@/core/address'
import { normaliseOrder } from '@/core/order'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { checkRulebook, findLogic } from '@/core/rulebook/findings'
import { readRulebook, writeRulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { carrierHabits } from '../standins/carrier/habits'
import { demoCarriers, demoServices, demoTariffs } from './carriers'
import { deskFiles } from './deskFiles'
import { demoItems } from './items'
import { demoOrders } from './orders'
import { fateOf, numberOfPast, pastLabel, type PastOrder } from './past'
import { seeded } from './random'
import { demoRulebook } from './rulebook'
import { demoWorld } from './world'

const anchor = '2026-11-20'
const orders = [...demoOrders('small', 7, anchor)]
const ready = readyWorld(demoWorld)
const now = Date.parse(`${anchor}T08:00:00Z`)
const normal = orders.map((order) => normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', ready.cards))

describe('the orders of the demo', () => {
  test('the same size, seed and anchor give the same bytes; another seed does not', () => {
    const first = (seed: number): string => JSON.stringify([...demoOrders('large', seed, anchor)].slice(0, 200))
    expect(first(7)).toBe(first(7))
    expect(first(7)).not.toBe(first(8))
  })
  test('oldest first, numbered without a gap, the youngest sixth from the last two days', () => {
    expect(orders).toHaveLength(2000)
    expect(orders.map(({ placed_at }) => placed_at)).toEqual(orders.map(({ placed_at }) => placed_at).sort())
    expect(new Set(orders.map(({ number }) => number)).size).toBe(2000)
    const young = orders.filter(
      ({ placed_at }) => Date.parse(placed_at) > Date.parse(`${anchor}T06:00:00Z`) - 2 * 86_400_000,
    )
    expect(young.length / orders.length).toBeCloseTo(1 / 6, 2)
  })
  test('who looks before the morning sees no order of later', () => {
    const night = `${anchor}T01:30:00.000Z`
    const early = [...demoOrders('small', 7, anchor, Date.parse(night))]
    expect(early.every(({ placed_at }) => placed_at < night)).toBe(true)
    expect(early.map(({ lines }) => lines)).toEqual(orders.map(({ lines }) => lines))
  })
  test('nobody real is written to, and nearly all that is sold is in the list of items', () => {
    const unknown: string[] = []
    const skus = new Set(demoItems.map(({ sku }) => sku))
    for (const { customer, lines } of orders) {
      if (customer.email !== '') expect(customer.email).toMatch(/^[^@\s]+@[a-z.]+\.example$/)
      if (customer.phone !== '') expect(customer.phone).toMatch(/^(?:\+00 555 |\+33 6 39 98 |\+44 7700 900)/)
      for (const { sku } of lines) if (!skus.has(sku)) unknown.push(sku)
    }
    // New items, which Intake asks about.
    expect(unknown.length).toBeGreaterThan(0)
    expect(unknown.length).toBeLessThan(40)
    expect(unknown.every((sku) => /^(NEW-\d{3}|SUB-20KG)$/.test(sku))).toBe(true)
  })
  test('a few have something wrong with them, as in life, and most do not', () => {
    const wrong = normal.filter((order) => withAddressChecked(order).problems.length > 0).length
    expect(wrong / normal.length).toBeGreaterThan(0.01)
    expect(wrong / normal.length).toBeLessThan(0.08)
  })
  test('now and then a buyer orders once more, to the same place', () => {
    const again = orders.filter(
      (order, i) => i > 0 && order.customer.email !== '' && order.customer.email === orders[i - 1]!.customer.email,
    )
    expect(again.length).toBeGreaterThan(30)
  })
})

describe('the world and the rulebook of the demo', () => {
  test('the rulebook has no errors, and reads back from its text', () => {
    expect(checkRulebook(demoRulebook, demoWorld).filter(({ severity }) => severity === 'error')).toEqual([])
    expect(readRulebook(writeRulebook(demoRulebook))).toEqual({ ok: true, rulebook: demoRulebook })
    expect(
      findLogic(demoRulebook, demoWorld, now).filter(({ kind }) => kind === 'never' || kind === 'never acts'),
    ).toEqual([])
  })
  test('most orders go without anybody touching them, with every carrier, from every location', () => {
    const program = compileRulebook(demoRulebook, demoWorld.rates)
    const routed = normal.map((order) => route(order, program, ready, { now: Date.parse(order.placedAt) }))
    const smooth = routed.filter(({ problems, decisions }) => problems.length === 0 && decisions.hold === null)
    expect(smooth.length / routed.length).toBeGreaterThan(0.85)
    expect(new Set(smooth.map(({ quote }) => quote!.carrier))).toEqual(new Set(demoCarriers.map(({ id }) => id)))
    expect(new Set(smooth.map(({ location }) => location))).toEqual(new Set(demoWorld.locations.map(({ id }) => id)))
  })
  test('each service has its carrier, its locations, and a tariff for today with a price in each of its zones', () => {
    for (const service of demoServices) {
      expect(demoCarriers.map(({ id }) => id)).toContain(service.carrier)
      for (const location of service.locations) expect(demoWorld.locations.map(({ id }) => id)).toContain(location)
      const tariff = demoTariffs.find(
        ({ service: id, from, until }) => id === service.id && from <= anchor && (until === null || until >= anchor),
      )
      expect(Object.keys(tariff!.zones)).toEqual(
        expect.arrayContaining([...new Set(service.zones.map(({ zone }) => zone))]),
      )
    }
  })
})

test('tracking numbers of the past never meet each other, nor those of today', () => {
  const order = (id: number, carrier: string): PastOrder => ({
    id,
    remoteId: `s-${id}`,
    state: 'delivered',
    carrier,
    service: 's',
    zone: 'z',
    location: 'ghent',
    country: 'BE',
    cost: 500,
    arrivesOn: '2026-11-10',
  })
  for (const { id: carrier } of demoCarriers) {
    const past = [1, 2, 3, 40].flatMap((id) => [1, 2, 3].map((parcel) => numberOfPast(order(id, carrier), parcel)))
    const today = Array.from({ length: 50 }, (_, n) => carrierHabits[carrier]!.number(n + 1, 'BE'))
    expect(new Set([...past, ...today]).size).toBe(past.length + today.length)
  }
  const labelOn = (anchor: string) =>
    pastLabel(order(5, 'heron'), '2026-11-08', 1, fateOf(order(5, 'heron'), '2026-11-08', 1, anchor))
  const label = labelOn('2026-11-25')
  expect(labelOn('2026-11-25')).toEqual(label)
  expect(Date.parse(String(label.deliveredAt))).toBeGreaterThanOrEqual(Date.parse('2026-11-10T00:00:00Z'))
})

test('of the parcels of the past days some are on their way, late, silent, held, back and never handed over', () => {
  const row = (id: number, arrivesOn: string, country = 'BE'): PastOrder => ({
    ...{ id, remoteId: `s-${id}`, state: 'ready', carrier: 'heron', service: 's', zone: 'z' },
    ...{ location: 'ghent', country, cost: 500, arrivesOn },
  })
  const fates = (arrivesOn: string, country?: string, day = '2026-11-20') =>
    Array.from({ length: 400 }, (_, id) => fateOf(row(id, arrivesOn, country), day, 7, '2026-11-27'))
  const open = fates('2026-11-28')
  const unseen = open.filter(({ status }) => status === 'announced')
  expect(unseen.filter(({ forgotten }) => forgotten).length).toBeGreaterThan(3)
  expect(unseen.filter(({ forgotten }) => !forgotten).length).toBeGreaterThan(0)
  expect(open.length - unseen.length).toBe(
    open.filter(({ status, goesOn }) => status === 'in transit' && goesOn).length,
  )
  const recent = fates('2026-11-24')
  const count = (status: string) => recent.filter((fate) => fate.status === status).length
  for (const status of ['in transit', 'collected', 'returned']) expect(count(status)).toBeGreaterThan(3)
  expect(count('delivered')).toBeGreaterThan(320)
  expect(
    fates('2026-11-24', 'GB').some(({ news }) => news.some(({ text }) => text.startsWith('Held at customs'))),
  ).toBe(true)
  expect(fates('2026-11-10', 'BE', '2026-11-05').every(({ status }) => status === 'delivered')).toBe(true)
})

test('the source of numbers: the same seed gives the same ones, spread evenly; weights are kept', () => {
  const [a, b] = [seeded(3), seeded(3)]
  const drawn = Array.from({ length: 10_000 }, () => a.next())
  expect(drawn).toEqual(Array.from({ length: 10_000 }, () => b.next()))
  expect(drawn.every((n) => n >= 0 && n < 1)).toBe(true)
  for (let tenth = 0; tenth < 10; tenth++)
    expect(drawn.filter((n) => Math.floor(n * 10) === tenth).length / 1000).toBeCloseTo(1, 0)
  const picked = Array.from({ length: 10_000 }, () =>
    a.weighted([
      ['often', 9],
      ['seldom', 1],
    ] as const),
  )
  expect(picked.filter((one) => one === 'seldom').length / 10_000).toBeCloseTo(0.1, 1)
  expect(Array.from({ length: 1000 }, () => a.below(3)).every((n) => n === 0 || n === 1 || n === 2)).toBe(true)
})

test('a world that was left half made is thrown away, and no other one', () => {
  const left = (...files: string[]): boolean => {
    const folder = mkdtempSync(join(tmpdir(), 'gharry-test-'))
    for (const file of files) writeFileSync(join(folder, file), '')
    execFileSync('node', [
      '-e',
      `import('./scripts/environment.mjs').then(({ throwAwayHalfMade }) => throwAwayHalfMade(${JSON.stringify(folder)}))`,
    ])
    const there = existsSync(folder)
    rmSync(folder, { recursive: true, force: true })
    return there
  }
  expect(left('gharry.db', 'seeding')).toBe(false)
  expect(left('gharry.db', 'world-made')).toBe(true)
  expect(left('gharry.db')).toBe(true)
})

test('what customers of the Trade Desk send is read whole, in each of its forms', async () => {
  const numbers: string[] = []
  for (const { name, content } of deskFiles('2026-11-20')) {
    const { orders, bad } = await readOrdersOf(name, Buffer.from(content))
    expect([name, bad]).toEqual([name, []])
    for (const raw of orders) {
      const order = normaliseOrder(raw, 'trade-desk', ready.cards)
      expect([order.number, order.problems]).toEqual([order.number, []])
      numbers.push(order.number)
    }
  }
  expect(numbers).toEqual(['WS-3101', 'WS-3102', 'WS-3103'])
})
