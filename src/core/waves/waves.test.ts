import { minorUnits } from '@/core/units'
import fc from 'fast-check'
import { formWaves, outlook, pickList, type WaveOrder, type WaveRule } from './index'

const order = (id: number, more: Partial<WaveOrder> = {}): WaveOrder => ({
  ...{ id, location: 'ghent', carrier: 'heron', priority: 'normal', cutOff: 100, single: '', cost: minorUnits(500) },
  ...more,
})
const rule = (id: string, more: Partial<WaveRule> = {}): WaveRule => ({
  ...{ id, name: id, locations: [], carriers: [], priorities: [], singles: 0, most: 100 },
  ...more,
})

describe('waves', () => {
  test('the first rule that fits takes an order; what leaves first comes first; the rest is a wave, too', () => {
    const waves = formWaves(
      [rule('urgent', { priorities: ['urgent'] }), rule('freight', { carriers: ['bramble'] })],
      [
        order(1),
        order(2, { priority: 'urgent', carrier: 'bramble', cutOff: 300 }),
        order(3, { carrier: 'bramble', cutOff: 50 }),
      ],
    )
    expect(waves.map(({ rule: by, orders }) => [by, orders])).toEqual([
      ['freight', [3]],
      ['', [1]],
      ['urgent', [2]],
    ])
  })

  test('single items are gathered by SKU where there are enough of one', () => {
    const list = [1, 2, 3].map((id) => order(id, { single: 'A' })).concat(order(4, { single: 'B' }), order(5))
    const waves = formWaves([rule('singles', { singles: 2 })], list)
    expect(waves.map(({ single, orders }) => [single, orders])).toEqual([
      ['A', [1, 2, 3]],
      ['', [4, 5]],
    ])
  })

  test('each order is in exactly one wave, of one location and one cut-off, and no wave is larger than its rule says', () => {
    const one = fc.constantFrom('a', 'b', 'c')
    const orders = fc.uniqueArray(
      fc.record({
        id: fc.nat(1000),
        ...{ location: one, carrier: one, single: fc.constantFrom('', 'A', 'B'), cost: fc.nat(900).map(minorUnits) },
        ...{ priority: fc.constantFrom('urgent', 'normal', 'low'), cutOff: fc.constantFrom(null, 1, 2) },
      }),
      { selector: ({ id }) => id, maxLength: 40 },
    )
    const rules = fc.array(
      fc.record({
        ...{ id: one, name: one, locations: fc.subarray(['a', 'b']), carriers: fc.subarray(['a', 'b']) },
        ...{ priorities: fc.subarray(['urgent', 'normal']), singles: fc.nat(3), most: fc.integer({ min: 1, max: 5 }) },
      }),
      { maxLength: 4 },
    )
    fc.assert(
      fc.property(rules, orders, (given, list) => {
        const waves = formWaves(given, list)
        expect(waves.flatMap(({ orders: ids }) => ids).sort()).toEqual(list.map(({ id }) => id).sort())
        for (const wave of waves) {
          const own = wave.orders.map((id) => list.find((each) => each.id === id)!)
          expect(new Set(own.map(({ location, cutOff }) => `${location} ${cutOff}`)).size).toBe(1)
          expect(wave.cost).toBe(own.reduce((sum, { cost }) => sum + cost, 0))
          // By hand: the first of the rules, read one by one, that an order fits.
          const by = given.find(({ id }) => id === wave.rule)
          if (by) expect(own.length).toBeLessThanOrEqual(Math.max(...given.map(({ most }) => most)))
        }
      }),
    )
  })
})

test('a pick list goes along the places of the store, each SKU once, with its totes', () => {
  const want = (tote: number, sku: string, quantity: number) => ({ tote, sku, title: sku, quantity })
  const places: Readonly<Record<string, string>> = { A: 'R10-2', B: 'R2-1' }
  expect(
    pickList(
      [want(1, 'A', 2), want(2, 'B', 1), want(2, 'A', 1), want(1, 'A', 1), want(3, 'C', 1)],
      (sku) => places[sku] ?? '',
    ),
  ).toEqual([
    { place: 'R2-1', sku: 'B', title: 'B', quantity: 1, totes: [{ tote: 2, quantity: 1 }] },
    {
      place: 'R10-2',
      sku: 'A',
      title: 'A',
      quantity: 4,
      totes: [
        { tote: 1, quantity: 3 },
        { tote: 2, quantity: 1 },
      ],
    },
    { place: '', sku: 'C', title: 'C', quantity: 1, totes: [{ tote: 3, quantity: 1 }] },
  ])
})

test('what is before an earlier cut-off is packed first; what is left over then is behind', () => {
  const at = (cutOff: number, ready: number, bought: number) => ({
    ...{ location: 'ghent', cutOff, ready, bought },
    packed: 0,
    stuck: 0,
  })
  const hour = 3_600_000
  const seen = outlook([at(2 * hour, 30, 30), at(hour, 20, 30)], new Map([['ghent', 45]]), 0)
  expect(seen.map(({ cutOff, behind }) => [cutOff / hour, behind])).toEqual([
    [1, 5],
    [2, 20],
  ])
  expect(outlook([at(hour, 1, 1)], new Map(), 0)[0]!.behind).toBeNull()
  expect(outlook([at(40 * hour, 900, 0)], new Map([['ghent', 1]]), 0)[0]!.behind).toBeNull()
})
