import fc from 'fast-check'
import { DateTime } from 'luxon'
import { dayOf, dayText, instantAt, localTime, minuteOf, monthOf, weekday } from './day'
import { readMoment } from './read'
import { arrivalDay, shipDay } from './transit'

const workdays = [1, 2, 3, 4, 5]
const at = (day: string, minute: number) => ({ day: dayOf(day), minuteOfDay: minute })
const arrives = (leaves: string, days: number, delivers: readonly number[] = workdays): string =>
  dayText(arrivalDay(dayOf(leaves), days, delivers)!)

test('before the cut-off it leaves today, after it on the next collection day', () => {
  expect(dayText(shipDay(at('2026-11-20', 989), 990, workdays)!)).toBe('2026-11-20') // Friday 16:29
  expect(dayText(shipDay(at('2026-11-20', 990), 990, workdays)!)).toBe('2026-11-23') // Friday 16:30
  expect(dayText(shipDay(at('2026-11-21', 60), 990, workdays)!)).toBe('2026-11-23') // Saturday
  expect(shipDay(at('2026-11-20', 60), 990, [])).toBeNull()
})

test('transit counts delivery days only', () => {
  expect(arrives('2026-11-20', 1)).toBe('2026-11-23')
  expect(arrives('2026-11-20', 1, [1, 2, 3, 4, 5, 6])).toBe('2026-11-21')
  expect(arrives('2026-02-27', 1)).toBe('2026-03-02')
  expect(arrives('2028-02-28', 1)).toBe('2028-02-29')
  expect(arrivalDay(dayOf('2026-11-20'), 3, [])).toBeNull()
})

test('the cut-off is the location’s own, through daylight saving', () => {
  // 2026-10-25 01:00 UTC: Brussels goes from 03:00 back to 02:00.
  expect(localTime(Date.parse('2026-10-25T00:30:00Z'), 'Europe/Brussels')).toEqual(at('2026-10-25', 150))
  expect(localTime(Date.parse('2026-10-25T01:30:00Z'), 'Europe/Brussels')).toEqual(at('2026-10-25', 150))
  expect(localTime(Date.parse('2026-03-29T01:30:00Z'), 'Europe/Brussels')).toEqual(at('2026-03-29', 210))
  expect(localTime(Date.parse('2026-11-20T23:30:00Z'), 'Europe/Warsaw')).toEqual(at('2026-11-21', 30))
})

test('days and their texts', () => {
  fc.assert(fc.property(fc.integer({ min: -20_000, max: 40_000 }), (day) => expect(dayOf(dayText(day))).toBe(day)))
  expect(weekday(dayOf('2026-11-25'))).toBe(3)
  expect([minuteOf('16:30'), minuteOf('7:05'), minuteOf('24:00'), minuteOf('x')]).toEqual([990, 425, null, null])
})

test('the wall clock is that of luxon, in every zone and season', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: Date.parse('1975-01-01'), max: Date.parse('2037-12-31') }),
      fc.constantFrom(
        'Europe/Brussels',
        'Europe/London',
        'America/St_Johns',
        'Asia/Kathmandu',
        'Australia/Lord_Howe',
        'Pacific/Apia',
        'UTC',
      ),
      (instant, zone) => {
        const at = DateTime.fromMillis(instant, { zone })
        expect(localTime(instant, zone)).toEqual({ day: dayOf(at.toISODate()!), minuteOfDay: at.hour * 60 + at.minute })
        expect(localTime(instantAt(dayOf(at.toISODate()!), 12 * 60, zone), zone)).toEqual({
          day: dayOf(at.toISODate()!),
          minuteOfDay: 720,
        })
      },
    ),
    { numRuns: 500 },
  )
})

test('months of days, by the calendar', () => {
  fc.assert(
    fc.property(fc.integer({ min: -100_000, max: 100_000 }), (day) => {
      const [year, month] = dayText(day).split('-').slice(-3).map(Number)
      if (dayText(day).length === 10) expect(monthOf(day)).toBe(year! * 12 + month! - 1)
    }),
  )
  expect(monthOf(dayOf('2028-02-29'))).toBe(2028 * 12 + 1)
})

test('holidays hold a parcel where it is, and long breaks end in no day at all', () => {
  const holidays = new Set([dayOf('2026-12-25'), dayOf('2026-12-28')])
  expect(dayText(shipDay(at('2026-12-24', 1000), 990, workdays, holidays)!)).toBe('2026-12-29')
  expect(dayText(arrivalDay(dayOf('2026-12-24'), 1, workdays, holidays)!)).toBe('2026-12-29')
  expect(dayText(arrivalDay(dayOf('2026-12-25'), 0, workdays, holidays)!)).toBe('2026-12-29')
  expect(
    shipDay(at('2026-12-24', 0), 990, workdays, new Set(Array.from({ length: 60 }, (_, i) => dayOf('2026-12-24') + i))),
  ).toBeNull()
})

test('a moment with its zone is what luxon reads, whatever the zone of the place', () => {
  fc.assert(
    fc.property(
      fc
        .integer({ min: Date.parse('1975-01-01'), max: Date.parse('2037-12-31') })
        .map((ms) => Math.floor(ms / 1000) * 1000),
      fc.constantFrom('Europe/Brussels', 'America/St_Johns', 'Asia/Kathmandu', 'UTC'),
      fc.constantFrom('Pacific/Auckland', 'UTC'),
      (instant, zone, place) => {
        const text = DateTime.fromMillis(instant, { zone }).toISO({ suppressMilliseconds: true })!
        expect([
          text,
          readMoment(text, place),
          readMoment(text.replace('T', ' '), place),
          readMoment(text.replace(/:(\d\d)$/, '$1'), place),
        ]).toEqual([text, instant, instant, instant])
      },
    ),
  )
  expect([
    readMoment('2026-11-25T10:00:00+25:00', 'UTC'),
    readMoment('2026-11-25T10:00+01', 'UTC'),
    readMoment('2026-11-25T10:00z', 'Pacific/Auckland'),
    readMoment('2026-11-25 9:05', 'Europe/Brussels'),
  ]).toEqual([
    null,
    Date.parse('2026-11-25T09:00:00Z'),
    Date.parse('2026-11-25T10:00:00Z'),
    Date.parse('2026-11-25T08:05:00Z'),
  ])
})
