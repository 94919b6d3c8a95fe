import fc from 'fast-check'
import { dayOf } from '@/core/calendar'
import { type Parcel, parcelOf } from '@/core/packing'
import {
  compileRates,
  type Location,
  quoteAll,
  type Service,
  type Surcharge,
  surchargeKinds,
  type Tariff,
} from '@/core/rating'
import { type Rates, measured, type Plain, minorUnits } from '@/core/units'
import { priceOf, type Consignment } from '../standins/carrier/price'
import type { Check } from './check'
import { atHome, digitsOf } from './plain'

/** Currencies with none, two and three minor digits. */
const currencies = ['EUR', 'GBP', 'USD', 'SEK', 'PLN', 'JPY', 'KRW', 'KWD', 'TND']
const micro: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  EUR: { GBP: 1_163_200, USD: 861_000, SEK: 90_110, PLN: 234_500, JPY: 5_523, KRW: 587, KWD: 2_804_100, TND: 293_700 },
  JPY: {
    EUR: 181_060_000,
    GBP: 210_600_000,
    USD: 155_900_000,
    SEK: 16_310_000,
    PLN: 42_460_000,
    KRW: 106_300,
    KWD: 507_700_000,
    TND: 53_180_000,
  },
  KWD: { EUR: 356_600, GBP: 414_800, USD: 307_000, SEK: 32_130, PLN: 83_600, JPY: 1_970, KRW: 209, TND: 104_700 },
}
const allRates: readonly Rates[] = Object.entries(micro).map(([home, rates]) => ({ home, micro: rates }))
const from: Location = {
  id: 'here',
  name: 'Here',
  country: 'BE',
  timeZone: 'UTC',
  address: { company: 'M', lines: ['1'], postcode: '9000', city: 'Gent', phone: '' },
}

const amount = fc.oneof(fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 0, max: 2_000_000 }))
const zones = ['near', 'far', 'island'] as const
const anySurcharge: fc.Arbitrary<Surcharge> = fc
  .record({
    on: fc.constantFrom(...surchargeKinds),
    each: fc.constantFrom('parcel' as const, 'shipment' as const),
    amount: fc.option(fc.integer({ min: -200, max: 4000 }), { nil: undefined }),
    permille: fc.option(fc.integer({ min: 0, max: 400 }), { nil: undefined }),
    per: fc.option(fc.integer({ min: 1, max: 500 }), { nil: undefined }),
    over: fc.integer({ min: 0, max: 2500 }),
    zones: fc.option(fc.subarray([...zones], { minLength: 1 }), { nil: undefined }),
    dates: fc.constantFrom({}, { from: '2026-11-10' }, { until: '2026-11-20' }),
    months: fc.option(
      fc.constantFrom<Readonly<Record<string, number>>>(
        { '2026-10': 120 },
        { '2026-09': 90, '2026-11': 155 },
        { '2026-12': 10 },
      ),
      { nil: undefined },
    ),
  })
  .map(({ on, dates, per, months, over, ...rest }) =>
    measured<Surcharge>(
      definite<Plain<Surcharge>>({
        on,
        ...rest,
        ...dates,
        ...(on === 'fuel' ? { months } : {}),
        ...(on === 'insurance' || on === 'cash on delivery' ? { perHundred: per } : {}),
        ...(['long', 'big', 'heavy'].includes(on) ? { over } : {}),
        ...(on === 'remote' ? { areas: [{ country: 'GB', prefixes: ['bt1', 'IV 2'] }] } : {}),
        ...(on === 'dangerous goods' && over % 2 === 0 ? { classes: ['UN 1'] } : {}),
      }),
    ),
  )

const anyTariff: fc.Arbitrary<Tariff> = fc
  .record({
    currency: fc.constantFrom(...currencies),
    basis: fc.constantFrom('parcel' as const, 'shipment' as const),
    dimensionalDivisor: fc.constantFrom(null, 4000, 5000, 6000),
    roundUpTo: fc.constantFrom(1, 100, 500),
    discountPermille: fc.constantFrom(0, 0, 125, 333),
    zones: fc.tuple(
      ...zones.map(() =>
        fc.record({
          bands: fc.uniqueArray(fc.integer({ min: 1, max: 40_000 }), { minLength: 1, maxLength: 5 }),
          prices: fc.array(amount, { minLength: 5, maxLength: 5 }),
          step: fc.option(fc.record({ every: fc.constantFrom(250, 1000), price: fc.integer({ min: 0, max: 900 }) }), {
            nil: undefined,
          }),
          perShipment: fc.option(amount, { nil: undefined }),
          minimum: fc.option(amount, { nil: undefined }),
        }),
      ),
    ),
    surcharges: fc.uniqueArray(anySurcharge, { maxLength: 8, selector: ({ on }) => on }),
  })
  .map(({ zones: prices, ...rest }) =>
    measured<Tariff>({
      service: 's',
      from: '2026-01-01',
      until: null,
      ...rest,
      zones: Object.fromEntries(
        prices.map(({ bands, prices: all, ...zone }, i) => [
          zones[i]!,
          definite({ ...zone, bands: bands.sort((a, b) => a - b).map((upTo, k) => ({ upTo, price: all[k]! })) }),
        ]),
      ),
    }),
  )

const service = measured<Service>({
  id: 's',
  carrier: 'c',
  name: 'S',
  locations: ['here'],
  zones: [
    { zone: 'near', from: 'BE', to: 'BE', transitDays: 1 },
    { zone: 'far', from: 'BE', to: 'GB', transitDays: 2 },
    { zone: 'island', from: 'BE', to: 'GB', prefixes: ['BT', 'bt1 1', 'JE'], transitDays: 3 },
  ],
  limits: {
    weight: 30_000,
    longestSide: 10_000,
    girth: 100_000,
    postOfficeBox: true,
    dangerousGoods: ['UN 1', 'UN 2'],
  },
  cutOff: '23:59',
  collects: [1, 2, 3, 4, 5, 6, 7],
  delivers: [1, 2, 3, 4, 5, 6, 7],
  offers: ['signature', 'cash on delivery', 'duties paid'],
  cover: { included: 5000, upTo: 100_000_000 },
})

const anyParcel: fc.Arbitrary<Parcel> = fc
  .record({
    size: fc.tuple(...[2500, 900, 600].map((most) => fc.integer({ min: 1, max: most }))),
    weight: fc.integer({ min: 0, max: 32_000 }),
    own: fc.constantFrom(
      {},
      { dangerousGoods: [], notStackable: false },
      { dangerousGoods: ['UN 1'], notStackable: true },
      { dangerousGoods: ['UN 2'] },
    ),
  })
  .map(({ size, weight, own }) => ({ ...parcelOf('', size as never, weight, []), ...own }))
const anyAsked = fc.record({
  parcels: fc.array(anyParcel, { minLength: 1, maxLength: 4 }),
  to: fc.constantFrom(
    { country: 'BE', postcode: '9000' },
    { country: 'GB', postcode: 'bt1 1aa' },
    { country: 'GB', postcode: 'BT11AA' },
    { country: 'GB', postcode: 'SW1A 1AA' },
    { country: 'GB', postcode: 'iv2-3aa' },
  ),
  postOfficeBox: fc.boolean(),
  residential: fc.boolean(),
  dangerousGoods: fc.constantFrom<string[]>([], [], ['UN 1'], ['UN 2', 'UN 1']),
  notStackable: fc.boolean(),
  signature: fc.boolean(),
  insured: fc.oneof(fc.constant(0), amount).map(minorUnits),
  toCollect: fc.oneof(fc.constant(0), amount).map(minorUnits),
  dutiesPaid: fc.boolean(),
  day: fc.constantFrom(
    '2026-09-30',
    '2026-10-01',
    '2026-11-10',
    '2026-11-20',
    '2026-11-21',
    '2026-12-31',
    '2027-01-01',
  ),
})

/**
 * Random tariffs in nine currencies, seen from three: each line of each quote, against the carrier's clerk, who reads
 * the tariff row by row.
 */
export const quotes: Check = {
  name: 'quotes in nine currencies',
  goal: 100_000,
  property: (count) =>
    fc.property(
      anyTariff,
      fc.array(anyAsked, { minLength: 1, maxLength: 8 }),
      fc.constantFrom(...allRates),
      (tariff, all, rates) => {
        const book = compileRates([service], [tariff], rates)
        const worth = (currency: string): number => (currency === rates.home ? 1 : rates.micro[currency]! / 1e6)
        for (const { to, day, dutiesPaid, ...asked } of all) {
          const duties = dutiesPaid && to.country !== 'BE'
          const { quotes: found, refusals } = quoteAll(book, {
            ...asked,
            from,
            to: { ...to, postOfficeBox: asked.postOfficeBox, residential: asked.residential },
            needs: duties ? ['duties paid'] : [],
            ready: { day: dayOf(day), minuteOfDay: 60 },
          })
          const consignment: Consignment = {
            ...asked,
            service: 's',
            fromCountry: 'BE',
            toCountry: to.country,
            toPostcode: to.postcode,
            shipOn: day,
            duties: duties ? 'DDP' : 'DAP',
          }
          const charged = priceOf([service], [tariff], consignment, worth, 10 ** digitsOf(rates.home))
          count()
          const lines =
            typeof charged === 'string'
              ? []
              : charged.lines.map(({ on, minor }) => ({
                  on,
                  minor: atHome({ minor, currency: charged.currency }, rates)!,
                }))
          const sum = lines.reduce((total, { minor }) => total + minor, 0)
          const wanted =
            typeof charged === 'string' || sum < 0
              ? null
              : {
                  cost: sum,
                  lines: lines
                    .filter(({ minor }) => minor !== 0)
                    .map(({ on, minor }) => `${on} ${minor}`)
                    .sort(),
                }
          const quote = found[0]
          const said = quote
            ? {
                cost: quote.cost,
                lines: quote.lines
                  .filter(({ minor }) => minor !== 0)
                  .map(({ what, minor }) => `${what} ${minor}`)
                  .sort(),
              }
            : null
          if (JSON.stringify(said) !== JSON.stringify(wanted))
            throw new Error(
              `the engine says ${JSON.stringify(said ?? refusals)}, the clerk ${typeof charged === 'string' ? charged : JSON.stringify(wanted)}`,
            )
        }
      },
    ),
}

/** Without the fields that are not there. */
function definite<T>(value: { [K in keyof T]?: T[K] | undefined }): T {
  return Object.fromEntries(Object.entries(value).filter(([, part]) => part !== undefined)) as T
}
