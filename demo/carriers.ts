import { measured, grams, minorUnits, type Plain } from '@/core/units'
import type { Band, Carrier, Service, Surcharge, Tariff, Zone } from '@/core/rating'

/* The six carriers of the demo's world, with made-up services and prices. */

/** Bands from `[kilograms, price in cents]`. */
const bands = (...rows: readonly (readonly [number, number])[]): { bands: Band[] } => ({
  bands: rows.map(([kg, price]) => ({ upTo: grams(kg * 1000), price: minorUnits(price) })),
})
const zone = (
  name: string,
  from: string,
  to: readonly string[],
  transitDays: number,
  prefixes?: readonly string[],
): Zone[] => to.map((country) => ({ zone: name, from, to: country, transitDays, ...(prefixes ? { prefixes } : {}) }))
const others = (list: readonly string[], home: string): string[] => list.filter((country) => country !== home)

const workdays = [1, 2, 3, 4, 5]
const near = ['NL', 'LU', 'DE', 'FR']
const union = [
  'BE',
  'NL',
  'LU',
  'DE',
  'FR',
  'PL',
  'AT',
  'IT',
  'ES',
  'PT',
  'DK',
  'SE',
  'FI',
  'IE',
  'CZ',
  'SK',
  'HU',
  'SI',
  'HR',
  'RO',
  'BG',
  'GR',
  'EE',
  'LV',
  'LT',
  'MT',
  'CY',
]
const neighbours = ['GB', 'CH', 'NO', 'IS', 'LI', 'XK', 'RS', 'UA', 'TR']
const overseas = ['US', 'CA', 'AU', 'NZ', 'JP', 'KR', 'SG', 'ZA', 'BR', 'MX', 'IN', 'AE', 'IL']
export const remoteAreas = [
  { country: 'FR', prefixes: ['20'] },
  { country: 'DE', prefixes: ['2594', '2684', '2746'] },
  { country: 'GB', prefixes: ['BT', 'IM', 'ZE', 'HS', 'KW'] },
  { country: 'ES', prefixes: ['35', '38', '51', '52'] },
]

const tariff = (service: string, more: Plain<Partial<Tariff> & Pick<Tariff, 'zones'>>): Tariff =>
  measured<Tariff>({
    service,
    from: '2025-01-01',
    until: null,
    currency: 'EUR',
    basis: 'parcel',
    dimensionalDivisor: null,
    roundUpTo: 1,
    discountPermille: 0,
    surcharges: [],
    ...more,
  })
const fuel = (permille: number, months: Record<string, number> = {}): Surcharge => ({
  on: 'fuel',
  each: 'shipment',
  permille,
  ...(Object.keys(months).length > 0 ? { months } : {}),
})
const peak = (amount: number): Surcharge => ({
  on: 'peak',
  each: 'parcel',
  amount: minorUnits(amount),
  from: '2026-11-16',
  until: '2026-12-24',
})

const heronRoad = measured<Service>({
  id: 'heron-road',
  carrier: 'heron',
  name: 'Heron Road',
  locations: ['ghent', 'poznan'],
  zones: [
    ...zone('R1', 'BE', ['BE'], 1),
    ...zone('R2', 'BE', near, 2),
    ...zone('R3', 'BE', ['PL'], 3),
    ...zone('R4', 'BE', ['FR'], 4, ['20']),
    ...zone('R4', 'BE', ['DE'], 3, ['2594', '2684', '2746']),
    ...zone('R1', 'PL', ['PL'], 1),
    ...zone('R2', 'PL', ['DE'], 2),
    ...zone('R3', 'PL', ['BE', 'NL', 'LU', 'FR'], 3),
  ],
  limits: {
    weight: 31_500,
    longestSide: 1750,
    girth: 3000,
    postOfficeBox: false,
    dangerousGoods: ['UN 1013', 'UN 3481'],
    cashOnDelivery: 250_000,
    parcels: 20,
  },
  cutOff: '16:30',
  collects: workdays,
  collections: [{ location: 'poznan', cutOff: '15:30', collects: workdays }],
  delivers: workdays,
  offers: ['tracking', 'signature', 'cash on delivery', 'live goods', 'return label'],
  cover: { included: 50_000, upTo: 500_000 },
  claims: { lost: { after: 14, within: 90 }, damaged: { within: 7 } },
  claimsBorneBy: ['tallow-lane'],
  formats: ['pdf', 'png', 'zpl'],
})
const heronZones = (by: number): Tariff['zones'] =>
  Object.fromEntries(
    Object.entries({
      R1: bands([2, 490], [5, 570], [10, 725], [20, 935], [31.5, 1250]),
      R2: bands([2, 725], [5, 820], [10, 1040], [20, 1410], [31.5, 1880]),
      R3: bands([2, 935], [5, 1090], [10, 1355], [20, 1775], [31.5, 2405]),
      R4: bands([2, 1565], [5, 1775], [10, 2300], [20, 3140], [31.5, 4190]),
    }).map(([name, price]) => [
      name,
      { ...price, bands: price.bands.map((band) => ({ ...band, price: minorUnits(band.price * by) })) },
    ]),
  )
const heronSurcharges = measured<Surcharge[]>([
  fuel(85, { '2026-06': 92, '2026-09': 88, '2026-11': 81 }),
  { on: 'residential', each: 'shipment', amount: 35 },
  { on: 'remote', each: 'parcel', amount: 390, areas: remoteAreas },
  { on: 'long', each: 'parcel', over: 1200, amount: 690 },
  { on: 'heavy', each: 'parcel', over: 25_000, amount: 320 },
  { on: 'dangerous goods', each: 'parcel', amount: 150 },
  { on: 'signature', each: 'shipment', amount: 110 },
  { on: 'insurance', each: 'shipment', perHundred: 45 },
  { on: 'cash on delivery', each: 'shipment', amount: 280, perHundred: 60 },
  peak(25),
])

const heronMorning = measured<Service>({
  id: 'heron-morning',
  carrier: 'heron',
  name: 'Heron Morning',
  locations: ['ghent'],
  zones: [
    ...zone('M1', 'BE', ['BE'], 1),
    ...zone('M2', 'BE', ['NL', 'LU'], 1),
    ...zone('M2', 'BE', ['DE'], 1, ['4', '5']),
    ...zone('M2', 'BE', ['FR'], 1, ['59', '62', '75']),
  ],
  limits: {
    weight: 20_000,
    longestSide: 1200,
    girth: 2400,
    postOfficeBox: false,
    dangerousGoods: ['UN 3481'],
    parcels: 10,
  },
  cutOff: '17:30',
  collects: workdays,
  delivers: [1, 2, 3, 4, 5, 6],
  offers: ['tracking', 'signature', 'live goods', 'return label'],
  cover: { included: 50_000, upTo: 1_000_000 },
  claims: { late: { permille: 1000, within: 21 }, lost: { after: 14, within: 90 }, damaged: { within: 7 } },
  formats: ['pdf', 'png', 'zpl'],
})

const corvidZones = (transit: readonly [number, number, number, number]): Zone[] =>
  ['BE', 'PL', 'GB'].flatMap((from) => [
    ...zone('P1', from, [from], transit[0]),
    ...zone('P2', from, others(union, from), transit[1]),
    ...zone('P3', from, others(neighbours, from), transit[2]),
    ...zone('P4', from, overseas, transit[3]),
  ])
const postal: Pick<Service, 'carrier' | 'locations' | 'cutOff' | 'collects' | 'delivers' | 'formats'> = {
  carrier: 'corvid',
  locations: ['ghent', 'poznan', 'leeds'],
  cutOff: '15:00',
  collects: workdays,
  delivers: [1, 2, 3, 4, 5, 6],
  formats: ['pdf', 'png'],
}

const corvidLetter = measured<Service>({
  ...postal,
  id: 'corvid-letter',
  name: 'Corvid Letter',
  zones: corvidZones([2, 5, 6, 12]),
  limits: { weight: 2000, longestSide: 353, girth: 910, postOfficeBox: true, dangerousGoods: [], parcels: 1 },
  offers: [],
  cover: { included: 0, upTo: 0 },
})
const corvidPacket = measured<Service>({
  ...postal,
  id: 'corvid-packet',
  name: 'Corvid Packet',
  zones: corvidZones([2, 4, 5, 10]),
  limits: { weight: 2000, longestSide: 600, girth: 1400, postOfficeBox: true, dangerousGoods: ['UN 3481'], parcels: 1 },
  offers: ['tracking', 'signature'],
  cover: { included: 2500, upTo: 10_000 },
  claimsBorneBy: ['quillmart'],
})
const corvidParcel = measured<Service>({
  ...postal,
  id: 'corvid-parcel',
  name: 'Corvid Parcel',
  zones: corvidZones([3, 6, 8, 14]),
  limits: {
    weight: 30_000,
    longestSide: 1500,
    girth: 3000,
    postOfficeBox: true,
    dangerousGoods: [],
    cashOnDelivery: 100_000,
    parcels: 5,
  },
  offers: ['tracking', 'signature', 'cash on delivery', 'return label'],
  cover: { included: 10_000, upTo: 100_000 },
})

const expressCountries = ['BE', 'NL', 'LU', 'DE', 'FR']
const northlightDay = measured<Service>({
  id: 'northlight-day',
  carrier: 'northlight',
  name: 'Northlight Next Day',
  locations: ['ghent', 'poznan', 'leeds'],
  zones: ['BE', 'PL', 'GB'].flatMap((from) => [
    ...zone('N1', from, others(expressCountries, from), 1),
    ...zone('N1', from, [from], 1),
    ...zone(
      'N2',
      from,
      others(
        others(union, from).filter((country) => !expressCountries.includes(country)),
        from,
      ),
      2,
    ),
    ...zone('N3', from, others(['GB', 'CH', 'NO'], from), 2),
  ]),
  limits: {
    weight: 30_000,
    longestSide: 1200,
    girth: 3000,
    postOfficeBox: false,
    dangerousGoods: ['UN 3481'],
    parcels: 10,
  },
  cutOff: '18:00',
  collects: workdays,
  delivers: [1, 2, 3, 4, 5],
  offers: ['tracking', 'signature', 'duties paid', 'live goods'],
  cover: { included: 10_000, upTo: 1_500_000 },
  claims: { late: { permille: 1000, within: 21 }, lost: { after: 7, within: 60 }, damaged: { within: 7 } },
  claimsBorneBy: ['tallow-lane', 'quillmart'],
  formats: ['pdf', 'zpl'],
})

const skuaWorld = measured<Service>({
  id: 'skua-world',
  carrier: 'skua',
  name: 'Skua Worldwide',
  locations: ['ghent', 'leeds'],
  zones: ['BE', 'GB'].flatMap((from) => [
    ...zone('A1', from, others(union, from), 3),
    ...zone('A2', from, others(neighbours, from), 3),
    ...zone('A3', from, ['US', 'CA', 'MX'], 4),
    ...zone(
      'A4',
      from,
      overseas.filter((country) => !['US', 'CA', 'MX'].includes(country)),
      6,
    ),
  ]),
  limits: { weight: 70_000, longestSide: 2000, girth: 4000, postOfficeBox: false, dangerousGoods: [], parcels: 10 },
  cutOff: '14:00',
  collects: workdays,
  delivers: workdays,
  offers: ['tracking', 'signature', 'duties paid'],
  cover: { included: 8500, upTo: 2_500_000 },
  claims: { lost: { after: 21, within: 120 }, damaged: { within: 14 } },
  formats: ['pdf', 'zpl'],
})

const brambleFreight = measured<Service>({
  id: 'bramble-freight',
  carrier: 'bramble',
  name: 'Bramble Freight',
  locations: ['ghent', 'poznan'],
  zones: ['BE', 'PL'].flatMap((from) => [
    ...zone('F1', from, [from], 3),
    ...zone('F2', from, others(['BE', 'NL', 'LU', 'DE', 'FR', 'PL', 'AT', 'CZ'], from), 4),
    ...zone('F3', from, others(['IT', 'ES', 'PT', 'DK', 'SE', 'SK', 'HU', 'SI', 'HR', 'IE'], from), 7),
  ]),
  limits: {
    weight: 900_000,
    longestSide: 2400,
    girth: 7200,
    postOfficeBox: false,
    dangerousGoods: ['UN 1013', 'UN 3481'],
    parcels: 33,
  },
  cutOff: '11:00',
  collects: [1, 3, 5],
  delivers: workdays,
  offers: ['tracking', 'signature'],
  cover: { included: 100_000, upTo: 5_000_000 },
  claims: { damaged: { within: 3 } },
  formats: ['pdf'],
})

const drayLocal = measured<Service>({
  id: 'dray-same-day',
  carrier: 'dray',
  name: 'Dray Same Day',
  locations: ['ghent'],
  zones: [
    ...zone('L1', 'BE', ['BE'], 0, ['900', '903', '904', '905']),
    ...zone('L2', 'BE', ['BE'], 0, ['91', '98', '99']),
  ],
  limits: {
    weight: 40_000,
    longestSide: 1300,
    girth: 3600,
    postOfficeBox: false,
    dangerousGoods: [],
    domesticOnly: true,
    parcels: 6,
  },
  cutOff: '11:30',
  collects: [1, 2, 3, 4, 5, 6],
  delivers: [1, 2, 3, 4, 5, 6],
  offers: ['tracking', 'signature', 'live goods', 'cash on delivery'],
  cover: { included: 25_000, upTo: 200_000 },
  formats: ['pdf', 'png'],
})

export const demoCarriers: readonly Carrier[] = [
  { id: 'heron', name: 'Heron Parcel', numbers: [{ form: `00${'#'.repeat(18)}`, check: 'SSCC-18' }] },
  { id: 'corvid', name: 'Corvid Post', numbers: [{ form: 'CV#########@@', check: 'S10' }] },
  { id: 'northlight', name: 'Northlight Express', numbers: [{ form: 'NX77##########', check: 'modulo 10' }] },
  { id: 'skua', name: 'Skua Air', numbers: [{ form: '918########', check: 'modulo 7' }] },
  { id: 'bramble', name: 'Bramble Freight', numbers: [{ form: 'BF########', check: 'none' }] },
  { id: 'dray', name: 'Dray Local', numbers: [{ form: 'DL#######', check: 'none' }] },
]

export const demoServices = measured<readonly Service[]>([
  heronRoad,
  heronMorning,
  corvidLetter,
  corvidPacket,
  corvidParcel,
  northlightDay,
  skuaWorld,
  brambleFreight,
  drayLocal,
])

export const demoTariffs = measured<readonly Tariff[]>([
  tariff('heron-road', {
    from: '2025-01-01',
    until: '2026-09-30',
    dimensionalDivisor: 6000,
    discountPermille: 50,
    zones: heronZones(0.96),
    surcharges: heronSurcharges,
  }),
  tariff('heron-road', {
    from: '2026-10-01',
    dimensionalDivisor: 6000,
    discountPermille: 50,
    zones: heronZones(1),
    surcharges: heronSurcharges,
  }),
  tariff('heron-morning', {
    dimensionalDivisor: 5000,
    zones: {
      M1: bands([2, 890], [5, 990], [10, 1240], [20, 1690]),
      M2: bands([2, 1290], [5, 1440], [10, 1790], [20, 2390]),
    },
    surcharges: [
      fuel(120, { '2026-09': 124, '2026-11': 117 }),
      { on: 'dangerous goods', each: 'parcel', amount: 200 },
      { on: 'signature', each: 'shipment', amount: 0 },
      { on: 'insurance', each: 'shipment', perHundred: 60 },
      peak(40),
    ],
  }),
  tariff('corvid-letter', {
    zones: {
      P1: bands([0.1, 184], [0.35, 276], [1, 395], [2, 480]),
      P2: bands([0.1, 275], [0.35, 530], [1, 890], [2, 1290]),
      P3: bands([0.1, 295], [0.35, 590], [1, 990], [2, 1490]),
      P4: bands([0.1, 330], [0.35, 690], [1, 1290], [2, 2190]),
    },
  }),
  tariff('corvid-packet', {
    zones: {
      P1: bands([0.5, 410], [1, 450], [2, 520]),
      P2: bands([0.5, 790], [1, 990], [2, 1390]),
      P3: bands([0.5, 890], [1, 1190], [2, 1690]),
      P4: bands([0.5, 1190], [1, 1790], [2, 2790]),
    },
    surcharges: [
      { on: 'signature', each: 'shipment', amount: 250 },
      { on: 'insurance', each: 'shipment', perHundred: 100 },
    ],
  }),
  tariff('corvid-parcel', {
    dimensionalDivisor: 8000,
    zones: {
      P1: bands([2, 540], [5, 620], [10, 740], [20, 980], [30, 1290]),
      P2: bands([2, 1190], [5, 1490], [10, 1890], [20, 2790], [30, 3890]),
      P3: bands([2, 1690], [5, 2190], [10, 2990], [20, 4590], [30, 6290]),
      P4: bands([2, 2990], [5, 4990], [10, 8490], [20, 14_900], [30, 21_900]),
    },
    surcharges: [
      fuel(40),
      { on: 'signature', each: 'shipment', amount: 180 },
      { on: 'insurance', each: 'shipment', perHundred: 80 },
      { on: 'post-office box', each: 'shipment', amount: 90 },
      { on: 'cash on delivery', each: 'shipment', amount: 350 },
      { on: 'long', each: 'parcel', over: 1000, amount: 450 },
    ],
  }),
  tariff('northlight-day', {
    dimensionalDivisor: 5000,
    roundUpTo: 500,
    discountPermille: 280,
    zones: {
      N1: {
        ...bands([0.5, 2190], [1, 2390], [2, 2690], [5, 3290], [10, 4290], [20, 6190]),
        step: { every: 500, price: 110 },
      },
      N2: {
        ...bands([0.5, 2990], [1, 3390], [2, 3990], [5, 5190], [10, 7290], [20, 10_990]),
        step: { every: 500, price: 190 },
      },
      N3: {
        ...bands([0.5, 3490], [1, 3990], [2, 4790], [5, 6590], [10, 9290], [20, 14_290]),
        step: { every: 500, price: 260 },
      },
    },
    surcharges: [
      fuel(165, { '2026-07': 178, '2026-10': 171, '2026-11': 168 }),
      { on: 'residential', each: 'shipment', amount: 180 },
      { on: 'remote', each: 'shipment', amount: 1450, areas: remoteAreas },
      { on: 'long', each: 'parcel', over: 1000, amount: 1500 },
      { on: 'dangerous goods', each: 'shipment', amount: 850 },
      { on: 'signature', each: 'shipment', amount: 190 },
      { on: 'insurance', each: 'shipment', perHundred: 90 },
      { on: 'duties paid', each: 'shipment', amount: 1500 },
      peak(60),
    ],
  }),
  tariff('skua-world', {
    currency: 'USD',
    dimensionalDivisor: 5000,
    roundUpTo: 500,
    discountPermille: 350,
    zones: {
      A1: {
        ...bands([0.5, 3890], [1, 4390], [2, 5190], [5, 7190], [10, 9990], [30, 19_900]),
        step: { every: 500, price: 310 },
        minimum: 4100,
      },
      A2: {
        ...bands([0.5, 4390], [1, 4990], [2, 5990], [5, 8490], [10, 12_490], [30, 26_900]),
        step: { every: 500, price: 420 },
      },
      A3: {
        ...bands([0.5, 5190], [1, 5990], [2, 7290], [5, 11_190], [10, 16_990], [30, 38_900]),
        step: { every: 500, price: 560 },
      },
      A4: {
        ...bands([0.5, 5890], [1, 6890], [2, 8590], [5, 13_690], [10, 21_490], [30, 49_900]),
        step: { every: 500, price: 690 },
      },
    },
    surcharges: [
      fuel(220, { '2026-08': 235, '2026-11': 228 }),
      { on: 'remote', each: 'shipment', amount: 2600, areas: remoteAreas },
      { on: 'long', each: 'parcel', over: 1200, amount: 2200 },
      { on: 'signature', each: 'shipment', amount: 450 },
      { on: 'insurance', each: 'shipment', perHundred: 130 },
      { on: 'duties paid', each: 'shipment', amount: 1900 },
    ],
  }),
  tariff('bramble-freight', {
    basis: 'shipment',
    dimensionalDivisor: 3000,
    roundUpTo: 1000,
    zones: {
      F1: {
        ...bands([50, 3900], [100, 5200], [250, 7900], [500, 11_900]),
        step: { every: 50_000, price: 890 },
        perShipment: 450,
      },
      F2: {
        ...bands([50, 6900], [100, 8900], [250, 13_900], [500, 20_900]),
        step: { every: 50_000, price: 1490 },
        perShipment: 450,
      },
      F3: {
        ...bands([50, 9900], [100, 12_900], [250, 20_900], [500, 31_900]),
        step: { every: 50_000, price: 2290 },
        perShipment: 450,
      },
    },
    surcharges: [
      fuel(110, { '2026-10': 106 }),
      { on: 'residential', each: 'shipment', amount: 2500 },
      { on: 'not stackable', each: 'parcel', amount: 1900 },
      { on: 'dangerous goods', each: 'shipment', amount: 3500 },
      { on: 'signature', each: 'shipment', amount: 0 },
      { on: 'insurance', each: 'shipment', perHundred: 35 },
    ],
  }),
  tariff('dray-same-day', {
    zones: { L1: bands([5, 790], [15, 990], [40, 1490]), L2: bands([5, 1190], [15, 1490], [40, 2190]) },
    surcharges: [
      { on: 'heavy', each: 'parcel', over: 20_000, amount: 350 },
      { on: 'signature', each: 'shipment', amount: 0 },
      { on: 'insurance', each: 'shipment', perHundred: 50 },
      { on: 'cash on delivery', each: 'shipment', amount: 200 },
    ],
  }),
])
