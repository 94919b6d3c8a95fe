import type { World } from '@/core/rulebook'
import type { Band, Service, Zone } from '@/core/rating'
import { demoItems } from './items'

/** Bands from `[kilograms, price in cents]`. */
const bands = (...rows: readonly (readonly [number, number])[]): Band[] => rows.map(([kg, price]) => ({ upTo: Math.round(kg * 1000), price }))
const zone = (name: string, from: string, to: readonly string[], transitDays: number, prefixes?: readonly string[]): Zone[] => to.map((country) => ({ zone: name, from, to: country, transitDays, ...(prefixes ? { prefixes } : {}) }))

const workdays = [1, 2, 3, 4, 5]
const near = ['NL', 'LU', 'DE', 'FR']
const postalEurope = ['BE', 'NL', 'LU', 'DE', 'FR', 'PL', 'AT', 'IT', 'ES', 'PT', 'DK', 'SE', 'FI', 'IE', 'CZ', 'SK', 'HU', 'SI', 'HR', 'RO', 'BG', 'GR', 'EE', 'LV', 'LT', 'MT', 'CY']
const postalNeighbours = ['GB', 'CH', 'NO', 'IS', 'LI', 'XK', 'RS', 'UA', 'TR']
const overseas = ['US', 'CA', 'AU', 'NZ', 'JP', 'KR', 'SG', 'ZA', 'BR', 'MX', 'IN', 'AE', 'IL']
const others = (list: readonly string[], home: string): string[] => list.filter((country) => country !== home)

const heronRoad: Service = {
  id: 'heron-road', carrier: 'heron', name: 'Heron Road', locations: ['ghent', 'poznan'],
  zones: [
    ...zone('R1', 'BE', ['BE'], 1), ...zone('R2', 'BE', near, 2), ...zone('R3', 'BE', ['PL'], 3), ...zone('R4', 'BE', ['FR'], 4, ['20']), ...zone('R4', 'BE', ['DE'], 3, ['2594', '2684', '2746']),
    ...zone('R1', 'PL', ['PL'], 1), ...zone('R2', 'PL', ['DE'], 2), ...zone('R3', 'PL', ['BE', 'NL', 'LU', 'FR'], 3),
  ],
  bands: {
    R1: bands([2, 465], [5, 540], [10, 690], [20, 890], [31.5, 1190]), R2: bands([2, 690], [5, 780], [10, 990], [20, 1340], [31.5, 1790]),
    R3: bands([2, 890], [5, 1040], [10, 1290], [20, 1690], [31.5, 2290]), R4: bands([2, 1490], [5, 1690], [10, 2190], [20, 2990], [31.5, 3990]),
  },
  dimensionalDivisor: 6000, fuelPermille: 85, limits: { weight: 31_500, longestSide: 1750, girth: 3000, postOfficeBox: false, dangerousGoods: ['UN 1013', 'UN 3481'] },
  cutOff: '16:30', collects: workdays, delivers: workdays, tracked: true, signatureFee: 110, cover: { included: 50_000, upTo: 500_000, perHundred: 45 },
}

const heronMorning: Service = {
  id: 'heron-morning', carrier: 'heron', name: 'Heron Morning', locations: ['ghent'],
  zones: [...zone('M1', 'BE', ['BE'], 1), ...zone('M2', 'BE', ['NL', 'LU'], 1), ...zone('M2', 'BE', ['DE'], 1, ['4', '5']), ...zone('M2', 'BE', ['FR'], 1, ['59', '62', '75'])],
  bands: { M1: bands([2, 890], [5, 990], [10, 1240], [20, 1690]), M2: bands([2, 1290], [5, 1440], [10, 1790], [20, 2390]) },
  dimensionalDivisor: 5000, fuelPermille: 120, limits: { weight: 20_000, longestSide: 1200, girth: 2400, postOfficeBox: false, dangerousGoods: ['UN 3481'] },
  cutOff: '17:30', collects: workdays, delivers: [1, 2, 3, 4, 5, 6], tracked: true, signatureFee: 0, cover: { included: 50_000, upTo: 1_000_000, perHundred: 60 },
}

const corvidZones = (transit: readonly [number, number, number, number]): Zone[] => ['BE', 'PL', 'GB'].flatMap((from) => [
  ...zone('P1', from, [from], transit[0]), ...zone('P2', from, others(postalEurope, from), transit[1]), ...zone('P3', from, others(postalNeighbours, from), transit[2]), ...zone('P4', from, overseas, transit[3]),
])

const corvidLetter: Service = {
  id: 'corvid-letter', carrier: 'corvid', name: 'Corvid Letter', locations: ['ghent', 'poznan', 'leeds'], zones: corvidZones([2, 5, 6, 12]),
  bands: {
    P1: bands([0.1, 184], [0.35, 276], [1, 395], [2, 480]), P2: bands([0.1, 275], [0.35, 530], [1, 890], [2, 1290]),
    P3: bands([0.1, 295], [0.35, 590], [1, 990], [2, 1490]), P4: bands([0.1, 330], [0.35, 690], [1, 1290], [2, 2190]),
  },
  dimensionalDivisor: null, fuelPermille: 0, limits: { weight: 2000, longestSide: 353, girth: 910, postOfficeBox: true, dangerousGoods: [] },
  cutOff: '15:00', collects: workdays, delivers: workdays, tracked: false, signatureFee: null, cover: { included: 0, upTo: 0, perHundred: 0 },
}

const corvidPacket: Service = {
  id: 'corvid-packet', carrier: 'corvid', name: 'Corvid Packet', locations: ['ghent', 'poznan', 'leeds'], zones: corvidZones([2, 4, 5, 10]),
  bands: { P1: bands([0.5, 410], [1, 450], [2, 520]), P2: bands([0.5, 790], [1, 990], [2, 1390]), P3: bands([0.5, 890], [1, 1190], [2, 1690]), P4: bands([0.5, 1190], [1, 1790], [2, 2790]) },
  dimensionalDivisor: null, fuelPermille: 0, limits: { weight: 2000, longestSide: 600, girth: 1400, postOfficeBox: true, dangerousGoods: ['UN 3481'] },
  cutOff: '15:00', collects: workdays, delivers: workdays, tracked: true, signatureFee: 250, cover: { included: 2500, upTo: 10_000, perHundred: 100 },
}

const corvidParcel: Service = {
  id: 'corvid-parcel', carrier: 'corvid', name: 'Corvid Parcel', locations: ['ghent', 'poznan', 'leeds'], zones: corvidZones([3, 6, 8, 14]),
  bands: {
    P1: bands([2, 540], [5, 620], [10, 740], [20, 980], [30, 1290]), P2: bands([2, 1190], [5, 1490], [10, 1890], [20, 2790], [30, 3890]),
    P3: bands([2, 1690], [5, 2190], [10, 2990], [20, 4590], [30, 6290]), P4: bands([2, 2990], [5, 4990], [10, 8490], [20, 14_900], [30, 21_900]),
  },
  dimensionalDivisor: 8000, fuelPermille: 40, limits: { weight: 30_000, longestSide: 1500, girth: 3000, postOfficeBox: true, dangerousGoods: [] },
  cutOff: '15:00', collects: workdays, delivers: workdays, tracked: true, signatureFee: 180, cover: { included: 10_000, upTo: 100_000, perHundred: 80 },
}

/** The world of Mossgill Aquatics, as far as its rules look at it. */
export const demoWorld: World = {
  rates: { home: 'EUR', micro: { GBP: 1_163_500, PLN: 235_200, CHF: 1_071_000, NOK: 85_400, SEK: 91_200, DKK: 134_040, USD: 861_000 } },
  locations: [
    { id: 'ghent', name: 'Ghent', country: 'BE', timeZone: 'Europe/Brussels', address: { company: 'Mossgill Aquatics', lines: ['Wiedauwkaai 23'], postcode: '9000', city: 'Gent', phone: '+32 9 555 01 20' } },
    { id: 'poznan', name: 'Poznań', country: 'PL', timeZone: 'Europe/Warsaw', address: { company: 'Mossgill Aquatics Polska', lines: ['ul. Dolna Wilda 126'], postcode: '61-501', city: 'Poznań', phone: '+48 61 555 01 20' } },
    { id: 'leeds', name: 'Leeds (partner)', country: 'GB', timeZone: 'Europe/London', address: { company: 'Mossgill c/o Aire Storage', lines: ['Whitehall Road 41'], postcode: 'LS12 1BE', city: 'Leeds', phone: '+44 113 555 0120' } },
  ],
  presets: [
    { id: 'letter', name: 'Letter mailer', inner: [340, 240, 30], outer: [350, 250, 30], tare: 25, limit: 1900 },
    { id: 'bag', name: 'Padded bag', inner: [340, 260, 80], outer: [350, 270, 85], tare: 45, limit: 3000 },
    { id: 'box-s', name: 'Box S', inner: [240, 180, 120], outer: [250, 190, 130], tare: 160, limit: 8000 },
    { id: 'box-m', name: 'Box M', inner: [380, 280, 200], outer: [390, 290, 210], tare: 310, limit: 15_000 },
    { id: 'box-l', name: 'Box L', inner: [580, 400, 380], outer: [590, 410, 390], tare: 720, limit: 28_000 },
    { id: 'box-plants', name: 'Plant box, vented', inner: [360, 260, 160], outer: [370, 270, 170], tare: 280, limit: 6000 },
    { id: 'box-lamp', name: 'Lamp carton', inner: [960, 160, 110], outer: [970, 170, 120], tare: 420, limit: 8000 },
    { id: 'double-60', name: 'Double box, tank 60', inner: [700, 400, 460], outer: [760, 460, 520], tare: 2400, limit: 25_000 },
    { id: 'double-120', name: 'Double box, tank 120', inner: [900, 500, 560], outer: [960, 560, 620], tare: 3600, limit: 27_000 },
    { id: 'flat-cabinet', name: 'Flat crate', inner: [1240, 600, 220], outer: [1260, 620, 240], tare: 1900, limit: 29_500 },
  ],
  carriers: [{ id: 'heron', name: 'Heron Parcel' }, { id: 'corvid', name: 'Corvid Post' }],
  services: [heronRoad, heronMorning, corvidLetter, corvidPacket, corvidParcel],
  slips: [
    { id: 'standard', name: 'Standard slip', heading: 'Mossgill Aquatics', closing: 'Thank you, {{ buyer.firstName }}. Something missing or broken? Write to hello@mossgill.example within 14 days and name order {{ order.number }}.' },
    { id: 'live-plants', name: 'Live plants', heading: 'Mossgill Aquatics: live plants', closing: 'Open at once. Rinse the plants in lukewarm water and plant them today, {{ buyer.firstName }}. Arrived limp? Send a picture to plants@mossgill.example within 24 hours.' },
    { id: 'trade', name: 'Trade desk', heading: 'Mossgill Aquatics, Trade Desk', closing: 'Delivery note for order {{ order.number }} of {{ order.placed }}. The invoice follows by mail.' },
  ],
  items: demoItems.map(({ price: _price, ...card }) => card),
  wordings: [
    { channel: 'mossgill-shop', rows: [
      { wording: 'Free', gives: { speed: 'economy' } },
      { wording: 'Standard', gives: { speed: 'standard' } },
      { wording: 'Exp. 2-day', gives: { speed: 'express' } },
      { wording: 'Priority 1-day', countries: ['BE', 'NL'], weight: [0, 20_000], gives: { speed: 'next day' } },
      { wording: 'Priority*', gives: { speed: 'express' } },
    ] },
  ],
  remoteAreas: [{ country: 'FR', prefixes: ['20'] }, { country: 'DE', prefixes: ['2594', '2684', '2746'] }],
  customsUnion: ['AT', 'BE', 'BG', 'HR', 'CY', 'CZ', 'DK', 'EE', 'FI', 'FR', 'DE', 'GR', 'HU', 'IE', 'IT', 'LV', 'LT', 'LU', 'MT', 'NL', 'PL', 'PT', 'RO', 'SK', 'SI', 'ES', 'SE'],
}
