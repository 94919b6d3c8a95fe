import { grams } from '@/core/units'
import fc from 'fast-check'
import { dayOf, dayText } from '@/core/calendar'
import { type Agreement, agreementsSchema, daysOf, fitOf } from './index'

const agreement: Agreement = {
  ...{ id: 'a', location: 'ghent', carrier: 'heron', weekdays: [1, 2, 3, 4, 5], from: '16:00', until: '17:00' },
  ...{ place: 'Door 2', notes: '', unasked: true },
}

test('an agreed collection falls on its weekdays, and on no day on which the place is closed', () => {
  // 2026-12-25 is a Friday.
  const days = daysOf(agreement, dayOf('2026-12-23'), dayOf('2026-12-29'), new Set([dayOf('2026-12-25')]))
  expect(days.map(dayText)).toEqual(['2026-12-23', '2026-12-24', '2026-12-28', '2026-12-29'])
})

test.each([
  [{ weekdays: [] }, 'are missing: choose a day'],
  [{ from: '17:00', until: '16:00' }, 'is not after its beginning'],
  [{ from: '5 pm' }, 'is no time such as 16:30'],
  [{ carrier: '' }, 'is missing'],
])('an agreement with %j is refused', (more, message) => {
  const parsed = agreementsSchema.safeParse([{ ...agreement, ...more }])
  expect(parsed.error?.issues[0]?.message).toBe(message)
})

describe('what was booked against what is there', () => {
  const load = (parcels: number, weight = parcels * 1000) => ({ parcels, weight: grams(weight) })
  test('a little more or less is no matter', () => {
    expect(fitOf(load(20), load(22))).toBeNull()
    expect(fitOf(load(20), load(16))).toBeNull()
    expect(fitOf(load(0), load(2))).toBeNull()
  })
  test('many more, much heavier, far fewer and nothing are said', () => {
    expect(fitOf(load(20), load(40))).toBe(
      'Booked for 20 parcels, 20.0 kg; 40 parcels, 40.0 kg are there: some may stay behind.',
    )
    expect(fitOf(load(20), load(20, 90_000))).toContain('heavier')
    expect(fitOf(load(20), load(2))).toContain('only 2 parcels')
    expect(fitOf(load(1), load(0))).toContain('nothing stands there')
  })
  test('what fits is never more than was booked and a fifth, nor nothing', () => {
    fc.assert(
      fc.property(fc.nat(500), fc.nat(500), (booked, there) => {
        if (fitOf(load(booked), load(there)) !== null) return
        expect(there).toBeLessThanOrEqual(booked + Math.max(3, booked * 0.2))
        if (booked > 0) expect(there).toBeGreaterThan(0)
      }),
    )
  })
})
