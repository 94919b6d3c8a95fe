import { testOrder } from './order.test-help'
import { combineKey, combineOrders, memberLine } from './combineKey'

const rates = { home: 'EUR', micro: { GBP: 1_160_000 } }

test('orders of the same buyer and place have the same key, however they are written', () => {
  const key = combineKey(testOrder({}))
  expect(combineKey(testOrder({ shipTo: { city: 'GENT ', lines: ['coupure  8'] } }))).toBe(key)
  expect(combineKey(testOrder({ shipTo: { lines: ['Coupure 9'] } }))).not.toBe(key)
  expect(combineKey(testOrder({ email: 'other@post.example' }))).not.toBe(key)
  expect(combineKey(testOrder({ shipTo: { lines: [] } }))).toBe('')
})

test('one shipment: the order promised first leads, items know their order, amounts add up', () => {
  const one = testOrder({ number: 'A', promisedBy: '2026-12-04', value: '10.00', line: '1' })
  const two = testOrder({ number: 'B', promisedBy: '2026-12-02', value: '5.50', line: '1', wording: 'Express' })
  const both = combineOrders(
    [
      { id: 7, order: one },
      { id: 9, order: two },
    ],
    rates,
  )!
  expect(both).toMatchObject({
    number: 'B + A',
    wording: 'Express',
    promisedBy: '2026-12-02',
    value: { minor: 1550, currency: 'EUR' },
  })
  expect(both.items.map(({ line }) => memberLine(line))).toEqual([
    { member: 9, line: '1' },
    { member: 7, line: '1' },
  ])
  expect(
    combineOrders(
      [
        { id: 7, order: one },
        { id: 9, order: { ...two, value: { minor: 1000, currency: 'GBP' } as typeof two.value } },
      ],
      rates,
    )!.value,
  ).toEqual({ minor: 2160, currency: 'EUR' })
  expect(
    combineOrders(
      [
        { id: 7, order: one },
        { id: 9, order: { ...two, value: { minor: 1000, currency: 'XTS' } as typeof two.value } },
      ],
      rates,
    ),
  ).toBeNull()
})
