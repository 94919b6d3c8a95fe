import { measured, minorUnits } from '@/core/units'
import fc from 'fast-check'
import { dayOf, localTime } from '@/core/calendar'
import { parcelOf } from '@/core/packing'
import { compileRates, quoteAll, type Service, type Tariff } from '@/core/rating'
import type { Check } from './check'
import { daysOfWay, shown } from './plain'

/** Ghent and places far from it: clocks that change on other days, at other hours, by half an hour, or never. */
const zones = [
  'Europe/Brussels',
  'Pacific/Auckland',
  'America/New_York',
  'Australia/Lord_Howe',
  'Asia/Kathmandu',
  'Pacific/Kiritimati',
  'America/St_Johns',
  'UTC',
]
/** Around the changes of the clocks and the ends of years, or at any time. */
const anyMoment = fc.oneof(
  fc
    .tuple(
      fc.constantFrom(
        '2026-03-29T01:00:00Z',
        '2026-10-25T01:00:00Z',
        '2026-03-08T07:00:00Z',
        '2026-11-01T06:00:00Z',
        '2026-04-04T14:00:00Z',
        '2026-09-26T14:00:00Z',
        '2027-01-01T00:00:00Z',
        '2028-02-29T12:00:00Z',
      ),
      fc.integer({ min: -36 * 60, max: 36 * 60 }),
    )
    .map(([text, minutes]) => Date.parse(text) + minutes * 60_000),
  fc.integer({ min: Date.parse('2025-01-01'), max: Date.parse('2029-12-31') }),
)
const weekdays = fc.subarray([1, 2, 3, 4, 5, 6, 7], { minLength: 1 })
const clock = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map(([hour, minute]) => `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`)
const tariff = measured<Tariff>({
  service: 's',
  from: '2000-01-01',
  until: null,
  currency: 'EUR',
  basis: 'parcel',
  dimensionalDivisor: null,
  roundUpTo: 1,
  discountPermille: 0,
  zones: { z: { bands: [{ upTo: 1000, price: 100 }] } },
  surcharges: [],
})

/** Random moments, clocks, cut-offs, weekdays and holidays: the day of leaving and of arrival. */
export const days: Check = {
  name: 'arrival days',
  goal: 20_000,
  property: (count) =>
    fc.property(
      fc.constantFrom(...zones),
      fc.array(anyMoment, { minLength: 1, maxLength: 8 }),
      clock,
      weekdays,
      weekdays,
      fc.integer({ min: 0, max: 9 }),
      fc.array(fc.integer({ min: 0, max: 40 }), { maxLength: 8 }),
      fc.array(fc.integer({ min: 0, max: 40 }), { maxLength: 8 }),
      (zone, moments, cutOff, collects, delivers, transit, breaksHere, breaksThere) => {
        const first = Date.parse(`${shown(moments[0]!, zone).day}T12:00:00Z`)
        const [fromHolidays, toHolidays] = [breaksHere, breaksThere].map((list) =>
          list.map((after) => new Date(first + after * 86_400_000).toISOString().slice(0, 10)),
        )
        const service = measured<Service>({
          id: 's',
          carrier: 'c',
          name: 'S',
          locations: ['here'],
          zones: [{ zone: 'z', from: 'BE', to: 'NL', transitDays: transit }],
          limits: { weight: 1000, longestSide: 1000, girth: 3000, postOfficeBox: true, dangerousGoods: [] },
          cutOff,
          collects,
          delivers,
          offers: [],
          cover: { included: 0, upTo: 0 },
        })
        const book = compileRates(
          [service],
          [tariff],
          { home: 'EUR', micro: {} },
          new Map([
            ['BE', new Set(fromHolidays!.map(dayOf))],
            ['NL', new Set(toHolidays!.map(dayOf))],
          ]),
        )
        for (const moment of moments) {
          const { quotes } = quoteAll(book, {
            parcels: [parcelOf('', [10, 10, 10] as never, 10, [])],
            from: {
              id: 'here',
              name: 'Here',
              country: 'BE',
              timeZone: zone,
              address: { company: '', lines: [], postcode: '', city: '', phone: '' },
            },
            to: { country: 'NL', postcode: '1000', postOfficeBox: false },
            dangerousGoods: [],
            signature: false,
            insured: minorUnits(0),
            ready: localTime(moment, zone),
          })
          const wanted = daysOfWay({
            ...shown(moment, zone),
            cutOff,
            collects,
            delivers,
            transit,
            fromHolidays: fromHolidays!,
            toHolidays: toHolidays!,
          })
          count()
          const said = quotes[0] ? `${quotes[0].leavesOn}, ${quotes[0].arrivesOn}` : null
          if (said !== (wanted ? `${wanted.leaves}, ${wanted.arrives}` : null))
            throw new Error(
              `at ${new Date(moment).toISOString()} in ${zone} the engine says ${said}, the reference ${JSON.stringify(wanted)}`,
            )
        }
      },
    ),
}
