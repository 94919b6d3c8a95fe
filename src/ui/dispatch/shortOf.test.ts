import fc from 'fast-check'
import { shortOf } from './shortOf'

const label = (order: number, cost: number, carrier = 'a') => ({ order, cost, carrier })

test('what goes beyond a balance is said, with the fewest orders to leave out', () => {
  const labels = [label(1, 500), label(2, 900), label(3, 100), label(4, 50, 'b'), label(5, 9999, 'credit')]
  expect(shortOf(labels, { a: 700, b: 50, c: 0 })).toEqual([{ carrier: 'a', by: 800, leave: [2] }])
  expect(shortOf(labels, { a: 1500, b: 50 })).toEqual([])
  expect(shortOf(labels, { b: -20 })).toEqual([{ carrier: 'b', by: 50, leave: [4] }])
  expect(shortOf([], { a: 0 })).toEqual([])
})

test('without what is left out it is enough, and no smaller number would do', () => {
  const costs = fc.array(fc.integer({ min: 1, max: 10_000 }), { minLength: 1, maxLength: 9 })
  fc.assert(
    fc.property(costs, fc.integer({ min: 0, max: 40_000 }), (list, balance) => {
      const labels = list.map((cost, i) => label(i, cost))
      const [short] = shortOf(labels, { a: balance })
      const sum = list.reduce((a, b) => a + b, 0)
      expect(short?.by ?? 0).toBe(Math.max(0, sum - balance))
      // Every way to leave some out, tried: none with fewer is enough.
      const enough = Array.from({ length: 2 ** list.length }, (_, set) => list.filter((_, i) => (set >> i) & 1))
        .filter((kept) => kept.reduce((a, b) => a + b, 0) <= balance)
        .map((kept) => list.length - kept.length)
      expect(short?.leave.length ?? 0).toBe(Math.min(...enough))
    }),
  )
})
