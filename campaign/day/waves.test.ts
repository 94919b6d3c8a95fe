import fc from 'fast-check'
import { arrivedBy } from './waves'

test('all orders of a day have come at its end, none before it, and never fewer than before', () => {
  fc.assert(
    fc.property(
      fc.nat(200_000),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (total, a, b) => {
        expect([arrivedBy(-0.1, total), arrivedBy(0, total), arrivedBy(1, total), arrivedBy(3, total)]).toEqual([
          0,
          0,
          total,
          total,
        ])
        expect(arrivedBy(Math.min(a, b), total)).toBeLessThanOrEqual(arrivedBy(Math.max(a, b), total))
      },
    ),
  )
})

test('the letter brings a seventh within a twentieth of the day', () => {
  const within = arrivedBy(0.75, 140_000) - arrivedBy(0.7, 140_000)
  expect(within).toBeGreaterThan(20_000)
  expect(within).toBeLessThan(32_000)
})
