import { measured, grams, minorUnits } from '@/core/units'
import type { Service, Tariff } from '@/core/rating'

/*
 * What the carriers of the demo offer to a seller in the United States: Thistledown Kites of Duluth, in dollars, pounds
 * and inches. Gharry is not told of it; it asks the carrier.
 */
const pound = 453.59237
const inch = 25.4
const weekdays = [1, 2, 3, 4, 5]

const limits = {
  weight: Math.ceil(70 * pound),
  longestSide: Math.ceil(108 * inch),
  girth: Math.ceil(165 * inch),
  postOfficeBox: false,
  dangerousGoods: [],
}

export const thistledownServices = measured<readonly Service[]>([
  {
    ...{ id: 'skua-us-ground', carrier: 'skua', name: 'Skua Ground', locations: [], limits },
    zones: [
      // ZIP codes that begin so are nearer to Duluth.
      { zone: 'near', from: 'US', to: 'US', prefixes: ['54', '55', '56', '50', '53', '60'], transitDays: 2 },
      { zone: 'far', from: 'US', to: 'US', transitDays: 4 },
    ],
    ...{ cutOff: '17:00', collects: weekdays, delivers: [1, 2, 3, 4, 5, 6] },
    offers: ['tracking', 'signature', 'return label'],
    cover: { included: 10_000, upTo: 100_000 },
  },
  {
    ...{ id: 'skua-us-world', carrier: 'skua', name: 'Skua Abroad', locations: [], limits },
    zones: [
      { zone: 'north', from: 'US', to: 'CA', transitDays: 4 },
      ...['GB', 'IE', 'DE', 'FR', 'NL', 'BE'].map((to) => ({ zone: 'over sea', from: 'US', to, transitDays: 6 })),
    ],
    ...{ cutOff: '15:00', collects: weekdays, delivers: weekdays },
    offers: ['tracking', 'signature', 'duties paid'],
    cover: { included: 10_000, upTo: 200_000 },
  },
])

/** Prices for each weight in pounds, in cents. */
const bands = (first: number, perPound: number) =>
  [1, 2, 3, 5, 10, 20, 30, 50, 70].map((pounds) => ({
    upTo: grams(Math.ceil(pounds * pound)),
    price: minorUnits(first + (pounds - 1) * perPound),
  }))

const common = {
  from: '2026-01-01',
  until: null,
  currency: 'USD',
  basis: 'parcel',
  // 139 cubic inches for a pound.
  dimensionalDivisor: (139 * 2.54 ** 3) / (pound / 1000),
  roundUpTo: 1,
  discountPermille: 0,
} as const

export const thistledownTariffs = measured<readonly Tariff[]>([
  {
    ...common,
    service: 'skua-us-ground',
    zones: { near: { bands: bands(845, 62) }, far: { bands: bands(1090, 98) } },
    surcharges: [{ on: 'residential', each: 'parcel', amount: 395 }],
  },
  {
    ...common,
    service: 'skua-us-world',
    zones: { north: { bands: bands(1890, 210) }, 'over sea': { bands: bands(3450, 480) } },
    surcharges: [],
  },
])
