import { grams, minorUnits, measured, type Plain } from '@/core/units'
import fc from 'fast-check'
import { dayOf } from '@/core/calendar'
import { type Parcel, parcelOf } from '@/core/packing'
import { demoCarriers, demoServices, demoTariffs } from '../../../demo/carriers'
import { demoWorld } from '../../../demo/world'
import { priceOf } from '../../../standins/carrier/price'
import { chooseQuote } from './chooseService'
import { compileRates } from './compileRates'
import { billableWeight, dimensionalWeight } from './price'
import { leastCost, noQuote, type Quote, quoteAll, type Shipment } from './quote'
import { quoteColumns, type ShipmentColumns } from './shipmentColumns'
import type { Location, Offer, Service, Surcharge, Tariff } from './tariff'

const rates = { home: 'EUR', micro: { USD: 861_000 } }
const ghent: Location = {
  id: 'ghent',
  name: 'Ghent',
  country: 'BE',
  timeZone: 'Europe/Brussels',
  address: { company: '', lines: [], postcode: '', city: '', phone: '' },
}
const service = measured<Service>({
  id: 's',
  carrier: 'c',
  name: 'S',
  locations: ['ghent'],
  zones: [
    { zone: 'near', from: 'BE', to: 'FR', transitDays: 2 },
    { zone: 'island', from: 'BE', to: 'FR', prefixes: ['20'], transitDays: 5 },
  ],
  limits: { weight: 10_000, longestSide: 1000, girth: 2000, postOfficeBox: false, dangerousGoods: ['UN 3481'] },
  cutOff: '16:30',
  collects: [1, 2, 3, 4, 5],
  delivers: [1, 2, 3, 4, 5],
  offers: ['tracking', 'signature', 'cash on delivery'],
  cover: { included: 50_000, upTo: 500_000 },
})
const tariff = measured<Tariff>({
  service: 's',
  from: '2026-01-01',
  until: null,
  currency: 'EUR',
  basis: 'parcel',
  dimensionalDivisor: 5000,
  roundUpTo: 1,
  discountPermille: 0,
  zones: {
    near: {
      bands: [
        { upTo: 2000, price: 690 },
        { upTo: 5000, price: 780 },
      ],
    },
    island: { bands: [{ upTo: 2000, price: 1490 }] },
  },
  surcharges: [
    { on: 'fuel', each: 'shipment', permille: 85 },
    { on: 'signature', each: 'shipment', amount: 110 },
    { on: 'insurance', each: 'shipment', perHundred: 45 },
  ],
})
const parcel = (weight: number, size: [number, number, number]): Parcel => parcelOf('p', size, weight, [])
const shipment = (more: Partial<Plain<Shipment>> = {}) =>
  measured<Shipment>({
    parcels: [parcel(1000, [200, 150, 100])],
    from: ghent,
    to: { country: 'FR', postcode: '75011', postOfficeBox: false },
    dangerousGoods: [],
    signature: false,
    insured: 0,
    ready: { day: dayOf('2026-11-20'), minuteOfDay: 600 },
    ...more,
  })
const quote = (
  more: Partial<Plain<Shipment>> = {},
  changed: Partial<Service> = {},
  prices: Partial<Plain<Tariff>> = {},
) =>
  quoteAll(
    compileRates([{ ...service, ...changed }], [measured<Tariff>({ ...tariff, ...prices })], rates),
    shipment(more),
  )
const lines = (
  more: Partial<Plain<Shipment>>,
  prices: Partial<Plain<Tariff>>,
): readonly (readonly [string, number])[] | undefined =>
  quote(more, {}, prices).quotes[0]?.lines.map(({ what, minor }) => [what, minor] as const)

test('a tariff by hand, to the cent, with every line', () => {
  // 30 × 25 × 25 cm = 18,750 cm³ / 5,000 = 3.75 kg, more than the scales say
  const { quotes } = quote({ parcels: [parcel(1200, [300, 250, 250])], signature: true, insured: 123_400 })
  expect(quotes[0]).toMatchObject({ billable: 3750, zone: 'near', leavesOn: '2026-11-20', arrivesOn: '2026-11-24' })
  // fuel 780 × 8.5 % = 66.3 → 66; cover above 500.00: 734.00 → eight started hundreds × 0.45
  expect(quotes[0]!.lines).toEqual([
    { what: 'base', minor: 780 },
    { what: 'fuel', minor: 66 },
    { what: 'signature', minor: 110 },
    { what: 'insurance', minor: 360 },
  ])
  expect(quotes[0]!.cost).toBe(780 + 66 + 110 + 360)
})

test('several parcels: each by its band, the minimum, what is due per shipment, and the step above the last band', () => {
  const parcels = [parcel(1000, [10, 10, 10]), parcel(4000, [10, 10, 10])]
  const plain: Partial<Plain<Tariff>> = { surcharges: [] }
  expect(lines({ parcels }, plain)).toEqual([['base', 690 + 780]])
  expect(lines({ parcels }, { ...plain, basis: 'shipment' })).toEqual([['base', 780]])
  expect(
    lines({ parcels }, { ...plain, zones: { near: { ...tariff.zones.near!, perShipment: 100, minimum: 2000 } } }),
  ).toEqual([['base', 2000]])
  expect(
    lines(
      { parcels: [parcel(7600, [10, 10, 10])] },
      { ...plain, zones: { near: { ...tariff.zones.near!, step: { every: 500, price: 40 } } } },
    ),
  ).toEqual([['base', 780 + 6 * 40]])
  expect(
    lines(
      {},
      {
        ...plain,
        roundUpTo: 1000,
        zones: {
          near: {
            bands: [
              { upTo: 999, price: 1 },
              { upTo: 1000, price: 2 },
            ],
          },
        },
      },
    ),
  ).toEqual([['base', 2]])
})

test('surcharges by what they are for, by month, by dates and zones, in any currency', () => {
  const only = (surcharge: Plain<Surcharge>, more: Partial<Plain<Shipment>> = {}): number | undefined =>
    lines(more, { surcharges: [surcharge] })?.[1]?.[1]
  const long = [parcel(100, [900, 10, 10]), parcel(100, [50, 10, 10])]
  expect(only({ on: 'long', each: 'parcel', over: 800, amount: 500 }, { parcels: [...long, long[0]!] })).toBe(1000)
  expect(only({ on: 'long', each: 'shipment', over: 800, amount: 500 }, { parcels: [...long, long[0]!] })).toBe(500)
  expect(only({ on: 'long', each: 'parcel', over: 900, amount: 500 }, { parcels: long })).toBeUndefined()
  expect(only({ on: 'heavy', each: 'parcel', over: 999, amount: 320 })).toBe(320)
  expect(
    only(
      { on: 'residential', each: 'shipment', amount: 35 },
      { to: { country: 'FR', postcode: '75011', postOfficeBox: false, residential: true } },
    ),
  ).toBe(35)
  expect(
    only({ on: 'remote', each: 'shipment', amount: 390, areas: [{ country: 'FR', prefixes: ['97', '750'] }] }),
  ).toBe(390)
  expect(
    only(
      { on: 'dangerous goods', each: 'shipment', amount: 150, classes: ['UN 1013'] },
      { dangerousGoods: ['UN 3481'] },
    ),
  ).toBeUndefined()
  expect(only({ on: 'cash on delivery', each: 'shipment', amount: 280, perHundred: 60 }, { toCollect: 25_000 })).toBe(
    280 + 3 * 60,
  )
  expect(only({ on: 'peak', each: 'parcel', amount: 25, from: '2026-11-16', until: '2026-11-20' })).toBe(25)
  expect(only({ on: 'peak', each: 'parcel', amount: 25, from: '2026-11-21' })).toBeUndefined()
  expect(only({ on: 'peak', each: 'parcel', amount: 25, zones: ['island'] })).toBeUndefined()
  // Fuel: November is not listed, so October's holds; before the first listed month the general one.
  const fuel: Tariff['surcharges'][number] = {
    on: 'fuel',
    each: 'shipment',
    permille: 50,
    months: { '2026-08': 80, '2026-10': 100 },
  }
  expect([
    only(fuel),
    only(fuel, { ready: { day: dayOf('2026-09-10'), minuteOfDay: 0 } }),
    only(fuel, { ready: { day: dayOf('2026-02-10'), minuteOfDay: 0 } }),
  ]).toEqual([69, 55, 35])
  // In dollars: 6.90 × 0.861 = 5.9409 → 5.94; the discount comes off before.
  expect(quote({}, {}, { currency: 'USD', surcharges: [], discountPermille: 100 }).quotes[0]).toMatchObject({
    cost: 535,
    list: 594,
  })
  expect(quote({}, {}, { currency: 'SEK' }).refusals).toMatchObject([{ code: 'no-rate' }])
})

test('a tariff in a currency without cents, and one with thousandths, by hand', () => {
  // ¥10,000 at €0.0061 is €61.00; the minimum of ¥12,000 €73.20; a surcharge of ¥150 €0.915, rounded half up 0.92
  // €.
  const yen = { home: 'EUR', micro: { JPY: 6_100 } }
  const inYen: Partial<Plain<Tariff>> = {
    currency: 'JPY',
    zones: { near: { bands: [{ upTo: 5000, price: 10_000 }] } },
    surcharges: [{ on: 'fuel', each: 'shipment', amount: 150 }],
  }
  const one = (
    prices: Partial<Plain<Tariff>>,
    rates: Parameters<typeof compileRates>[2],
    more: Partial<Plain<Shipment>> = {},
  ) => quoteAll(compileRates([service], [measured<Tariff>({ ...tariff, ...prices })], rates), shipment(more)).quotes[0]
  expect(one(inYen, yen)).toMatchObject({
    cost: 6192,
    lines: [
      { what: 'base', minor: 6100 },
      { what: 'fuel', minor: 92 },
    ],
  })
  expect(
    one({ ...inYen, zones: { near: { bands: [{ upTo: 5000, price: 10_000 }], minimum: 12_000 } } }, yen)!.lines[0],
  ).toEqual({ what: 'base', minor: 7320 })
  // A home without cents: €6.90 at ¥163 is ¥1,125 (1,124.7); a home with thousandths: €6.90 at 0.335 is 2.312 KWD
  // (2.3115).
  expect(one({ surcharges: [] }, { home: 'JPY', micro: { EUR: 163_000_000 } })!.cost).toBe(1125)
  expect(one({ surcharges: [] }, { home: 'KWD', micro: { EUR: 335_000 } })!.cost).toBe(2312)
  expect(
    one(
      { currency: 'KWD', zones: { near: { bands: [{ upTo: 5000, price: 2_500 }] } }, surcharges: [] },
      { home: 'EUR', micro: { KWD: 2_985_000 } },
    )!.cost,
  ).toBe(746)
})

test('started hundreds are counted in the tariff’s currency, and a whole hundred stays one after its way home and back', () => {
  const cash: Plain<Surcharge> = { on: 'cash on delivery', each: 'shipment', perHundred: 60 }
  const hundreds = (currency: string, micro: number, toCollect: number): number => {
    const quoted = quoteAll(
      compileRates(
        [service],
        [measured<Tariff>({ ...tariff, currency, surcharges: [{ ...cash, perHundred: 10_000_000 }] })],
        {
          home: 'EUR',
          micro: { [currency]: micro },
        },
      ),
      shipment({ toCollect }),
    ).quotes[0]!
    return Math.round(quoted.lines[1]!.minor / (10_000_000 * (micro / 1e6) * (currency === 'JPY' ? 100 : 1)))
  }
  // £200.00 at 1.16358 is €232.716, rounded €232.72: still two hundreds. 10,300 ¥ at 0.006122 is €63.0566, rounded
  // €63.06: 103.
  expect([
    hundreds('GBP', 1_163_580, 23_272),
    hundreds('GBP', 1_163_580, 23_273),
    hundreds('JPY', 6_122, 6306),
    hundreds('USD', 861_000, 8610),
    hundreds('USD', 861_000, 8611),
  ]).toEqual([2, 3, 103, 1, 2])
})

test('dangerous goods and what is not stackable are charged for the parcels that they concern', () => {
  const parcels = [
    { ...parcel(1000, [10, 10, 10]), dangerousGoods: ['UN 3481'], notStackable: false },
    { ...parcel(1000, [10, 10, 10]), dangerousGoods: [], notStackable: true },
    { ...parcel(1000, [10, 10, 10]), dangerousGoods: ['UN 3481'], notStackable: true },
  ]
  const surcharges: Plain<Tariff['surcharges']> = [
    { on: 'dangerous goods', each: 'parcel', amount: 150, classes: ['UN 3481'] },
    { on: 'not stackable', each: 'parcel', amount: 40 },
  ]
  expect(lines({ parcels, dangerousGoods: ['UN 3481'], notStackable: true }, { surcharges })).toEqual([
    ['base', 3 * 690],
    ['not stackable', 80],
    ['dangerous goods', 300],
  ])
  expect(
    lines({ parcels: parcels.slice(1, 2), dangerousGoods: ['UN 3481'], notStackable: true }, { surcharges }),
  ).toEqual([
    ['base', 690],
    ['not stackable', 40],
  ])
  // Of a shipment that nobody packed yet all parcels share what is known.
  expect(
    lines({ parcels: [parcel(1, [1, 1, 1]), parcel(1, [1, 1, 1])], dangerousGoods: ['UN 3481'] }, { surcharges }),
  ).toEqual([
    ['base', 2 * 690],
    ['dangerous goods', 300],
  ])
})

test('the reason without a price names the dimensional weight when that is the cause, and a sum below nothing is no price', () => {
  expect(quote({ parcels: [parcel(1200, [500, 400, 300])] }).refusals[0]!.sentence).toBe(
    'has no price in zone near for 12 kg: that is its dimensional weight, rounded up; the scales say 1.2 kg',
  )
  expect(quote({ parcels: [parcel(6000, [10, 10, 10])] }).refusals[0]!.sentence).toBe(
    'has no price in zone near for 6 kg',
  )
  expect(quote({}, {}, { surcharges: [{ on: 'peak', each: 'shipment', permille: -2000 }] }).refusals).toMatchObject([
    { code: 'no-price' },
  ])
})

test('prefixes of zones and remote areas are compared without case, blanks and hyphens', () => {
  const to = (postcode: string): Partial<Plain<Shipment>> => ({ to: { country: 'FR', postcode, postOfficeBox: false } })
  for (const postcode of ['bt1 1aa', 'BT11AA', 'BT1-1AA']) {
    const [found] = quote(
      to(postcode),
      {
        zones: [
          { zone: 'near', from: 'BE', to: 'FR', transitDays: 2 },
          { zone: 'island', from: 'BE', to: 'FR', prefixes: ['Bt1 1'], transitDays: 5 },
        ],
      },
      {
        surcharges: [
          {
            on: 'remote',
            each: 'shipment',
            amount: 390,
            areas: [
              { country: 'FR', prefixes: ['75'] },
              { country: 'FR', prefixes: ['bt 1'] },
            ],
          },
        ],
      },
    ).quotes
    expect([found!.zone, found!.lines[1]]).toEqual(['island', { what: 'remote', minor: 390 }])
  }
})

test('past days are rated with the tariff of their day', () => {
  const book = compileRates(
    [service],
    [
      { ...tariff, until: '2026-10-31', surcharges: [] },
      measured({
        ...tariff,
        from: '2026-11-01',
        surcharges: [],
        zones: { near: { bands: [{ upTo: 5000, price: 999 }] } },
      }),
    ],
    rates,
  )
  const cost = (day: string): number | undefined =>
    quoteAll(book, shipment({ ready: { day: dayOf(day), minuteOfDay: 0 } })).quotes[0]?.cost
  expect([cost('2026-10-30'), cost('2026-10-31'), cost('2026-11-20')]).toEqual([690, 999, 999])
  expect(quoteAll(book, shipment({ ready: { day: dayOf('2025-12-01'), minuteOfDay: 0 } })).refusals).toMatchObject([
    { code: 'no-tariff' },
  ])
})

test('holidays of the origin keep it there, those of the destination make it late', () => {
  const holidays = new Map([
    ['BE', new Set([dayOf('2026-11-20')])],
    ['FR', new Set([dayOf('2026-11-25')])],
  ])
  expect(quoteAll(compileRates([service], [tariff], rates, holidays), shipment()).quotes[0]).toMatchObject({
    leavesOn: '2026-11-23',
    arrivesOn: '2026-11-26',
  })
  expect(quote({}, { collections: [{ location: 'ghent', cutOff: '09:00', collects: [2] }] }).quotes[0]).toMatchObject({
    leavesOn: '2026-11-24',
  })
  expect(
    quoteAll(
      compileRates([service], [tariff], rates, new Map(), [
        { service: 's', zone: 'near', shipments: 200, onTime: 190 },
      ]),
      shipment(),
    ).quotes[0]!.onTime,
  ).toBe(950)
  expect(
    quoteAll(
      compileRates([service], [tariff], rates, new Map(), [{ service: 's', zone: 'near', shipments: 19, onTime: 19 }]),
      shipment(),
    ).quotes[0]!.onTime,
  ).toBeNull()
})

test('a zone with a postcode prefix goes before the country', () => {
  expect(quote({ to: { country: 'FR', postcode: '20000', postOfficeBox: false } }).quotes[0]).toMatchObject({
    zone: 'island',
    arrivesOn: '2026-11-27',
  })
})

const limits = service.limits
test.each<[string, Partial<Plain<Shipment>>, Partial<Service>]>([
  ['location', {}, { locations: [] }],
  ['domestic-only', {}, { limits: { ...limits, domesticOnly: true } }],
  ['not-covered', { to: { country: 'US', postcode: '1', postOfficeBox: false } }, {}],
  ['post-office-box', { to: { country: 'FR', postcode: '1', postOfficeBox: true } }, {}],
  ['too-heavy', { parcels: [parcel(10_001, [10, 10, 10])] }, {}],
  ['too-long', { parcels: [parcel(10, [1001, 10, 10])] }, {}],
  ['too-big', { parcels: [parcel(10, [900, 300, 300])] }, {}],
  ['too-voluminous', {}, { limits: { ...limits, volume: 1000 } }],
  ['too-many', { parcels: [parcel(1, [1, 1, 1]), parcel(1, [1, 1, 1])] }, { limits: { ...limits, parcels: 1 } }],
  ['dangerous-goods', { dangerousGoods: ['UN 3481', 'UN 1013'] }, {}],
  ['no-signature', { signature: true }, { offers: [] }],
  ['no-offer', { needs: ['live goods'] }, {}],
  ['no-cover', { insured: 500_001 }, {}],
  [
    'collects-less',
    { toCollect: 100_001, needs: ['cash on delivery'] },
    { limits: { ...limits, cashOnDelivery: minorUnits(100_000) } },
  ],
  ['no-band', { parcels: [parcel(6000, [10, 10, 10])] }, {}],
  ['never-collects', {}, { collects: [] }],
  ['too-slow', { within: 1 }, {}],
  ['late-for-channel', { demandedBy: '2026-11-23' }, {}],
  ['unknown-carrier', { carriers: ['another'] }, {}],
])('refuses %s with a reason', (code, more, changed) => {
  const { quotes, refusals } = quote(more, changed)
  expect(quotes).toEqual([])
  expect(refusals).toMatchObject([{ code }])
  expect(refusals[0]!.sentence.length).toBeGreaterThan(8)
})

test('the limits themselves are still carried', () => {
  expect(quote({ parcels: [parcel(5000, [1000, 250, 250])] }, {}, { dimensionalDivisor: null }).quotes).toHaveLength(1)
  expect(quote({ parcels: [parcel(2000, [10, 10, 10])] }).quotes[0]!.lines[0]!.minor).toBe(690)
})

test('dimensional weight is volume over divisor, rounded up; what is paid for is a multiple of the step', () => {
  expect(dimensionalWeight(400 * 300 * 200, 5000)).toBe(4800)
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e9 }), fc.constantFrom(4000, 5000, 6000), (volume, divisor) => {
      expect(dimensionalWeight(volume, divisor) * divisor).toBeGreaterThanOrEqual(volume)
      expect((dimensionalWeight(volume, divisor) - 1) * divisor).toBeLessThan(volume)
    }),
  )
  expect(billableWeight(parcel(1001, [10, 10, 10]), 5000, 500)).toBe(1500)
})

/* The demo's six carriers, against the clerk's reading in the stand-ins, and columns against single quotes. */
const book = compileRates(demoServices, demoTariffs, demoWorld.rates)
const rarely = fc.constantFrom(false, false, false, false, true)
const side = (usual: number, most: number): fc.Arbitrary<number> =>
  fc.oneof(
    { weight: 4, arbitrary: fc.integer({ min: 1, max: usual }) },
    { weight: 1, arbitrary: fc.integer({ min: 1, max: most }) },
  )
const anyShipment: fc.Arbitrary<Shipment> = fc
  .record({
    parcels: fc.array(
      fc.record({
        own: fc.constantFrom<Partial<Parcel>>(
          {},
          {},
          { dangerousGoods: [], notStackable: false },
          { dangerousGoods: ['UN 3481'], notStackable: true },
        ),
        weight: side(12_000, 80_000),
        size: fc.tuple(side(600, 2500), side(300, 900), side(300, 900)),
      }),
      { minLength: 1, maxLength: 3 },
    ),
    from: fc.constantFrom(...demoWorld.locations),
    country: fc.constantFrom('BE', 'FR', 'DE', 'PL', 'GB', 'ES', 'US', 'CH', 'AX', ''),
    postcode: fc.constantFrom('9000', '20000', '2594', '75011', 'BT1 5GS', 'bt1 5gs', ''),
    postOfficeBox: rarely,
    residential: fc.boolean(),
    notStackable: fc.boolean(),
    signature: fc.boolean(),
    insured: fc.constantFrom(0, 0, 9000, 60_000, 900_000).map(minorUnits),
    toCollect: fc.constantFrom(0, 0, 0, 12_345, 8610, 25_830).map(minorUnits),
    dangerousGoods: fc.constantFrom<string[]>([], [], [], ['UN 3481'], ['UN 1013', 'UN 3481']),
    live: rarely,
    paid: rarely,
    day: fc.integer({ min: dayOf('2026-08-28'), max: dayOf('2026-12-26') }),
    minuteOfDay: fc.constantFrom(0, 700, 1000, 1439),
  })
  .map(
    ({ parcels, country, postcode, postOfficeBox, residential, day, minuteOfDay, live, paid, toCollect, ...rest }) => ({
      ...rest,
      toCollect,
      parcels: parcels.map(({ own, weight, size }) => ({ ...parcel(weight, size), ...own })),
      to: { country, postcode, postOfficeBox, residential },
      ready: { day, minuteOfDay },
      needs: [
        ...(live ? ['live goods' as const] : []),
        ...(paid ? ['duties paid' as const] : []),
        ...(toCollect > 0 ? ['cash on delivery' as const] : []),
      ],
    }),
  )

test('each quote is what the carrier charges', () => {
  let compared = 0
  fc.assert(
    fc.property(anyShipment, (asked) => {
      const { quotes, refusals } = quoteAll(book, asked)
      expect(quotes.length + refusals.length).toBe(demoServices.length)
      expect(leastCost(book, asked)).toBe(quotes.reduce((least, { cost }) => Math.min(least, cost), Infinity))
      for (const { service: id, cost, lines: parts, leavesOn } of quotes) {
        const duties = asked.needs!.includes('duties paid') ? 'DDP' : 'DAP'
        const charged = priceOf(
          demoServices,
          demoTariffs,
          {
            ...asked,
            service: id,
            fromCountry: asked.from.country,
            toCountry: asked.to.country,
            toPostcode: asked.to.postcode,
            shipOn: leavesOn,
            residential: asked.to.residential!,
            postOfficeBox: asked.to.postOfficeBox,
            notStackable: asked.notStackable!,
            toCollect: asked.toCollect!,
            duties,
          },
          (currency) => (currency === 'EUR' ? 1 : demoWorld.rates.micro[currency]! / 1e6),
        )
        expect(typeof charged).toBe('object')
        if (typeof charged === 'string') return
        expect(parts.reduce((sum, { minor }) => sum + minor, 0)).toBe(cost)
        // Each line is brought into the home currency by itself, so the sum may differ by a cent a line.
        const inHome =
          charged.currency === 'EUR'
            ? charged.minor
            : Math.round((charged.minor * demoWorld.rates.micro[charged.currency]!) / 1e6)
        if (!(duties === 'DDP' && asked.from.country === asked.to.country))
          expect(Math.abs(cost - inHome)).toBeLessThanOrEqual(charged.currency === 'EUR' ? 0 : parts.length)
        compared++
      }
    }),
    { numRuns: 1500 },
  )
  expect(compared).toBeGreaterThan(600)
  expect(demoCarriers.map(({ id }) => id)).toEqual([...new Set(demoServices.map(({ carrier }) => carrier))])
})

test('columns quote as one by one', () => {
  fc.assert(
    fc.property(fc.array(anyShipment, { minLength: 1, maxLength: 12 }), (all) => {
      const { cost, arrives } = quoteColumns(book, columnsOf(all))
      all.forEach((asked, i) => {
        const { quotes } = quoteAll(book, asked)
        demoServices.forEach(({ id }, lane) => {
          const single = quotes.find((candidate) => candidate.service === id)
          expect(cost[i * demoServices.length + lane]).toBe(single?.cost ?? noQuote)
          expect(arrives[i * demoServices.length + lane]).toBe(single ? dayOf(single.arrivesOn) : noQuote)
        })
      })
    }),
    { numRuns: 150 },
  )
})

function columnsOf(all: readonly Shipment[]): ShipmentColumns {
  const parcels = all.flatMap((asked) => asked.parcels)
  const sharedBy = all.flatMap((asked) => asked.parcels.map(() => asked))
  let first = 0
  return {
    count: all.length,
    locations: demoWorld.locations,
    places: all.map(({ to }) => ({ ...to, residential: to.residential ?? false })),
    goods: [
      ...all.map((asked) => asked.dangerousGoods),
      ...parcels.map((one, i) => one.dangerousGoods ?? sharedBy[i]!.dangerousGoods),
    ],
    needs: all.map((asked): readonly Offer[] => asked.needs ?? []),
    location: Uint8Array.from(all, (asked) => demoWorld.locations.indexOf(asked.from)),
    place: Uint32Array.from(all, (_, i) => i),
    dangerousGoods: Uint16Array.from(all, (_, i) => i),
    need: Uint16Array.from(all, (_, i) => i),
    signature: Uint8Array.from(all, (asked) => Number(asked.signature)),
    notStackable: Uint8Array.from(all, (asked) => Number(asked.notStackable)),
    insured: Int32Array.from(all, (asked) => asked.insured),
    toCollect: Int32Array.from(all, (asked) => asked.toCollect ?? 0),
    day: Int32Array.from(all, (asked) => asked.ready.day),
    minuteOfDay: Int16Array.from(all, (asked) => asked.ready.minuteOfDay),
    firstParcel: Uint32Array.from([
      ...all.map((asked) => {
        const at = first
        first += asked.parcels.length
        return at
      }),
      parcels.length,
    ]),
    parcelGoods: Uint16Array.from(parcels, (one, i) => all.length + i),
    parcelNotStackable: Uint8Array.from(parcels, (one, i) => Number(one.notStackable ?? sharedBy[i]!.notStackable)),
    weight: Int32Array.from(parcels, (one) => one.weight),
    longestSide: Int32Array.from(parcels, (one) => one.longestSide),
    girth: Int32Array.from(parcels, (one) => one.girth),
    volume: Float64Array.from(parcels, (one) => one.volume),
  }
}

describe('choosing', () => {
  const made = (name: string, cost: number, arrivesOn: string): Quote => ({
    service: name,
    carrier: 'c',
    zone: 'z',
    billable: grams(1),
    lines: [],
    cost: minorUnits(cost),
    list: minorUnits(cost),
    leavesOn: '',
    arrivesOn,
    onTime: null,
    tracked: true,
  })
  const quotes = [made('slow', 400, '2026-11-27'), made('mid', 600, '2026-11-24'), made('fast', 900, '2026-11-23')]
  test('picks are tried from the left', () => {
    expect(
      chooseQuote(
        quotes,
        [
          { by: 'service', service: 'gone' },
          { by: 'service', service: 'mid' },
        ],
        '',
      )?.quote.service,
    ).toBe('mid')
    expect(chooseQuote(quotes, [{ by: 'cheapest' }], '')).toMatchObject({
      quote: { service: 'slow' },
      runnerUp: { service: 'mid' },
    })
    expect(chooseQuote(quotes, [{ by: 'fastest' }], '')?.quote.service).toBe('fast')
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '2026-11-25')?.quote.service).toBe('mid')
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '2026-11-20')).toBeNull()
    expect(chooseQuote(quotes, [{ by: 'cheapest by promise' }], '')?.quote.service).toBe('slow')
    expect(chooseQuote([], [{ by: 'cheapest' }], '')).toBeNull()
  })
  test('nothing beats the choice on its own terms', () => {
    const any = fc.array(fc.record({ cost: fc.integer({ min: 1, max: 5 }), day: fc.integer({ min: 1, max: 9 }) }), {
      minLength: 1,
      maxLength: 8,
    })
    fc.assert(
      fc.property(any, (list) => {
        const all = list.map(({ cost, day }, i) => made(`s${i}`, cost, `2026-11-0${day}`))
        const cheapest = chooseQuote(all, [{ by: 'cheapest' }], '')!.quote
        expect(
          all.every(
            (other) =>
              other.cost > cheapest.cost || (other.cost === cheapest.cost && other.arrivesOn >= cheapest.arrivesOn),
          ),
        ).toBe(true)
      }),
    )
  })
})
