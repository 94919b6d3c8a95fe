import { minorUnits } from '@/core/units'
import knex from 'knex'
import { quoteAll } from '@/core/rating'
import { readyWorld, type World, worldSchema } from '@/core/world'
import { parcelOf } from '@/core/packing'
import { migrations } from './index'

test('books of the time before tariffs and several parcels are brought into the new form, and priced as before', async () => {
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: ':memory:' },
    useNullAsDefault: true,
    pool: { min: 1, max: 1 },
  })
  for (const { up } of migrations.slice(0, 3)) await up(db)
  const service = {
    id: 's',
    carrier: 'c',
    name: 'S',
    locations: ['g'],
    zones: [{ zone: 'z', from: 'BE', to: 'BE', transitDays: 1 }],
    bands: { z: [{ upTo: 2000, price: 400 }] },
    dimensionalDivisor: 5000,
    fuelPermille: 85,
    limits: { weight: 2000, longestSide: 1000, girth: 3000, postOfficeBox: true, dangerousGoods: [] },
    cutOff: '16:00',
    collects: [1, 2, 3, 4, 5],
    delivers: [1, 2, 3, 4, 5],
    tracked: true,
    signatureFee: 110,
    cover: { included: 0, upTo: 100_000, perHundred: 45 },
  }
  const old = {
    rates: { home: 'EUR', micro: {} },
    locations: [
      {
        id: 'g',
        name: 'G',
        country: 'BE',
        timeZone: 'Europe/Brussels',
        address: { company: '', lines: [], postcode: '9000', city: 'Gent', phone: '' },
      },
    ],
    presets: [],
    carriers: [{ id: 'c', name: 'C' }],
    services: [service],
    slips: [],
    items: [],
    customsUnion: ['BE'],
  }
  await db('worlds').insert({ content: JSON.stringify(old), made_at: '2026-01-01T00:00:00Z' })
  await db('channels').insert({ id: 'ch', name: 'Ch', kind: 'shop' })
  const base = {
    channel_id: 'ch',
    number: 'N',
    state: 'labelled',
    rank: 3,
    placed_at: '',
    promised_by: '',
    buyer: '',
    email: '',
    country: 'BE',
    city: '',
    wording: '',
    quantity: 1,
    fact_hash: '',
    imported_at: '',
  }
  await db('orders').insert([
    { ...base, id: 1, remote_id: '1' },
    { ...base, id: 2, remote_id: '2' },
  ])
  const parcel = { preset: 'p', size: [3, 2, 1], weight: 900, longestSide: 3, girth: 9, volume: 6 }
  const quote = { service: 's', cost: 434, lines: [] }
  await db('decisions').insert([
    {
      order_id: 1,
      edition: 1,
      world: 1,
      decided_at: '',
      outcome: JSON.stringify({ parcel, quote, runnerUp: null, trail: { quotes: [quote] } }),
    },
    {
      order_id: 2,
      edition: 1,
      world: 1,
      decided_at: '',
      outcome: JSON.stringify({ parcel: null, quote: null, runnerUp: null, trail: { quotes: [] } }),
    },
  ])
  const label = {
    id: 7,
    order_id: 1,
    position: 0,
    key: 'k',
    token: 't',
    state: 'bought',
    carrier: 'c',
    service: 's',
    zone: 'z',
    location: 'g',
    request: JSON.stringify({ service: 's', weight: 900, size: [3, 2, 1] }),
    quoted: 434,
    charged: 434,
    tracking_number: 'X1',
    symbology: 'code128',
    routing: 'r',
    status: 'announced',
    made_at: '',
    next_at: '',
  }
  await db('labels').insert(label)
  await db('ledger').insert([
    {
      label_id: 7,
      kind: 'buy',
      at: '2026-01-02T10:00:00Z',
      day: '2026-01-02',
      carrier: 'c',
      service: 's',
      zone: 'z',
      amount: 434,
    },
    {
      label_id: 7,
      kind: 'refund pending',
      at: '2026-01-03T10:00:00Z',
      day: '2026-01-03',
      carrier: 'c',
      service: 's',
      zone: 'z',
      amount: -434,
    },
  ])

  for (const { up } of migrations.slice(3)) await up(db)
  const world = JSON.parse(((await db('worlds').first()) as { content: string }).content) as World
  expect(worldSchema.safeParse(world).success).toBe(true)
  const ready = readyWorld(world)
  const { quotes } = quoteAll(ready.rateBook, {
    parcels: [parcelOf('', [100, 100, 100], 900, [])],
    from: world.locations[0]!,
    to: { country: 'BE', postcode: '2000', postOfficeBox: false },
    dangerousGoods: [],
    signature: true,
    insured: minorUnits(12_000),
    ready: { day: 20_500, minuteOfDay: 0 },
  })
  expect(quotes[0]!.lines).toEqual([
    { what: 'base', minor: 400 },
    { what: 'fuel', minor: 34 },
    { what: 'signature', minor: 110 },
    { what: 'insurance', minor: 90 },
  ])
  const outcomes = ((await db('decisions').orderBy('order_id')) as { outcome: string }[]).map(
    ({ outcome }) => JSON.parse(outcome) as { parcels: object[]; quote: { list: number } | null },
  )
  expect(outcomes.map(({ parcels }) => parcels.length)).toEqual([1, 0])
  expect(outcomes[0]!.quote!.list).toBe(434)
  expect(await db('label_parcels')).toMatchObject([{ label_id: 7, position: 1, tracking_number: 'X1', weight: 900 }])
  expect(JSON.parse(((await db('labels').first()) as { request: string }).request)).toEqual({
    service: 's',
    parcels: [{ weight: 900, size: [3, 2, 1] }],
  })
  expect(
    (await db('bookings').orderBy('id')).map(
      ({ kind, debit, credit, amount }: { kind: string; debit: string; credit: string; amount: number }) => [
        kind,
        debit,
        credit,
        amount,
      ],
    ),
  ).toEqual([
    ['purchase', 'shipping', 'balance', 434],
    ['void', 'refunds due', 'shipping', 434],
  ])
  expect(await db('refunds')).toMatchObject([{ label_id: 7, amount: 434, state: 'pending' }])
  await db.destroy()
})
