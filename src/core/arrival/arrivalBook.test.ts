import fc from 'fast-check'
import { arrivalBook, type LaneArrivals } from './index'

const lane = (came: LaneArrivals['came'], more: Partial<LaneArrivals> = {}): LaneArrivals => ({
  ...{ service: 's', location: 'ghent', zone: 'z', country: 'BE', weekday: 1 },
  ...more,
  came,
})
const way = { service: 's', location: 'ghent', zone: 'z', country: 'BE' }
// A Monday.
const monday = '2026-11-30'

test('a lane with much history says what its parcels did', () => {
  const book = arrivalBook([
    lane([
      [0, 9000],
      [1, 500],
      [2, 500],
    ]),
  ])
  expect(book.chance(way, monday, monday)).toBe(900)
  expect(book.chance(way, monday, '2026-12-01')).toBe(950)
  expect(book.chance(way, monday, '2026-11-29')).toBe(0)
  expect(book.day(way, monday, 500)).toBe(monday)
  expect(book.day(way, monday, 951)).toBe('2026-12-02')
})

test('a lane with little history leans on the wider one; a service without any says nothing', () => {
  const book = arrivalBook([lane([[0, 1000]], { country: 'NL' }), lane([[3, 2]])])
  // Two late ones in twelve of the service’s: neither surely late nor surely in time.
  const chance = book.chance(way, monday, monday)!
  expect(chance).toBeGreaterThan(400)
  expect(chance).toBeLessThan(900)
  expect(book.chance({ ...way, service: 'other' }, monday, monday)).toBeNull()
  expect(book.day({ ...way, service: 'other' }, monday, 500)).toBeNull()
})

test('what has not come by a day comes later: the chance is of what is left', () => {
  const book = arrivalBook([
    lane([
      [0, 9000],
      [1, 500],
      [2, 500],
    ]),
  ])
  expect(book.chance(way, monday, '2026-12-01', monday)).toBe(500)
  expect(book.day(way, monday, 500, monday)).toBe('2026-12-01')
  expect(book.day(way, monday, 900, monday)).toBe('2026-12-02')
  // Later than any before: still a day that is ahead.
  expect(book.day(way, monday, 500, '2026-12-10')! > '2026-12-10').toBe(true)
})

test('chances grow with the days, and a day of a chance has at least that chance', () => {
  const days = fc.integer({ min: -9, max: 40 })
  const lanes = fc.array(
    fc.record({
      service: fc.constantFrom('s', 't'),
      location: fc.constantFrom('ghent', 'leeds'),
      zone: fc.constant('z'),
      country: fc.constantFrom('BE', 'NL'),
      weekday: fc.integer({ min: 1, max: 7 }),
      came: fc.array(fc.tuple(days, fc.integer({ min: 1, max: 200 })), { minLength: 1, maxLength: 6 }),
    }),
    { minLength: 1, maxLength: 12 },
  )
  const dayAfter = (n: number): string => new Date(Date.parse(monday) + n * 86_400_000).toISOString().slice(0, 10)
  fc.assert(
    fc.property(
      lanes,
      fc.integer({ min: 0, max: 1000 }),
      fc.option(fc.integer({ min: -3, max: 20 })),
      (list, permille, gone) => {
        const book = arrivalBook(list)
        const after = gone === null ? undefined : dayAfter(gone)
        let before = 0
        for (let n = -8; n < 30; n++) {
          const chance = book.chance(way, monday, dayAfter(n), after)
          if (chance === null) return
          expect(chance).toBeGreaterThanOrEqual(before)
          expect(chance).toBeLessThanOrEqual(1000)
          before = chance
        }
        expect(before).toBe(1000)
        const day = book.day(way, monday, permille, after)!
        expect(book.chance(way, monday, day, after)!).toBeGreaterThanOrEqual(permille - 1)
        if (after !== undefined && permille > 0) expect(day > after).toBe(true)
      },
    ),
  )
})
