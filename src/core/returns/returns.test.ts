import fc from 'fast-check'
import { money } from '@/core/units'
import { canComeBack, piecesOf, type Priced, refundFor, returnedValue } from '.'

const order = (
  lines: readonly (readonly [quantity: number, price: number])[],
  discount = 0,
  value?: number,
): Priced => ({
  items: lines.map(([quantity, price]) => ({
    ...{ quantity, unitPrice: money(price, 'EUR') },
  })),
  value: money(value ?? lines.reduce((sum, [quantity, price]) => sum + quantity * price, 0), 'EUR'),
  discount: money(discount, 'EUR'),
})

test('a discount is spread over what comes back by its value', () => {
  expect(refundFor(order([[3, 1000]], 100), [0], [1])).toEqual(money(967, 'EUR'))
  expect(refundFor(order([[3, 1000]], 100), [1], [2])).toEqual(money(1933, 'EUR'))
  const two = order(
    [
      [1, 9000],
      [1, 1000],
    ],
    1000,
  )
  expect(refundFor(two, [0, 0], [1, 0])).toEqual(money(8100, 'EUR'))
  expect(refundFor(two, [0, 0], [0, 1])).toEqual(money(900, 'EUR'))
  expect(returnedValue(two, [1, 0])).toEqual(money(9000, 'EUR'))
})

test('what the channel says the goods came to goes before the sum of the lines; without prices nothing is due', () => {
  expect(refundFor(order([[2, 1000]], 0, 1500), [0], [1])).toEqual(money(750, 'EUR'))
  expect(refundFor(order([[2, 0]]), [0], [2])).toEqual(money(0, 'EUR'))
  expect(refundFor(order([[1, 500]], 900), [0], [1])).toEqual(money(0, 'EUR'))
})

test('more pieces than were ordered are not paid back', () => {
  expect(refundFor(order([[2, 1000]]), [0], [5])).toEqual(money(2000, 'EUR'))
  expect(canComeBack([2, 1, 0], [1, 0, 3])).toEqual([1, 1, 0])
  expect(
    piecesOf(2, [
      [{ item: 0, quantity: 1 }],
      [
        { item: 0, quantity: 2 },
        { item: 7, quantity: 1 },
      ],
    ]),
  ).toEqual([3, 0])
})

test('in however many parts, all together are what was paid, and no part is below nothing', () => {
  const lines = fc.array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 0, max: 5_000_000 })), {
    ...{ minLength: 1, maxLength: 6 },
  })
  fc.assert(
    fc.property(
      lines,
      fc.integer({ min: 0, max: 3_000_000 }),
      fc.infiniteStream(fc.nat()),
      (given, discount, picks) => {
        const all = order(given, discount)
        const goods = all.value.minor
        let before: readonly number[] = given.map(() => 0)
        let sum = 0
        for (;;) {
          const left = given.map(([quantity], i) => quantity - before[i]!)
          if (left.every((n) => n === 0)) break
          const now = left.map((n) => Math.min(n, Number(picks.next().value) % 4))
          if (!now.some((n) => n > 0)) now[left.findIndex((n) => n > 0)] = 1
          const part = refundFor(all, before, now).minor
          expect(part).toBeGreaterThanOrEqual(0)
          // A second reading: a plain share, off by no more than the rounding of both ends.
          const worth = given.reduce((total, [, price], i) => total + price * now[i]!, 0)
          if (goods > 0) expect(Math.abs(part - (Math.max(0, goods - discount) * worth) / goods)).toBeLessThanOrEqual(1)
          sum += part
          before = before.map((n, i) => n + now[i]!)
        }
        expect(sum).toBe(Math.max(0, goods - discount))
      },
    ),
  )
})
