import { grams } from '@/core/units'
import fc from 'fast-check'
import { itemsWeight } from '@/core/packing'
import type { Pins } from '@/core/rulebook/language'
import { testOrder } from '../../order/order.test-help'
import { decisionsTouched, type HandEdit, handEditor } from './handEdits'

const order = testOrder({})
const edited = (edits: readonly HandEdit[], pins: Pins = {}, id = 1): Pins =>
  handEditor(edits)({ id, order, tags: ['live', 'Fragile'] }, pins)

test('pins are set and released, tags join those that are decided, each word once', () => {
  expect(edited([{ do: 'pin', decision: 'signature', value: true }], { preset: 'box-s' })).toEqual({
    signature: true,
    preset: 'box-s',
  })
  expect(edited([{ do: 'release', decision: 'preset' }], { preset: 'box-s' })).toEqual({})
  expect(edited([{ do: 'tag', add: ['gift', 'LIVE'], remove: [' fragile'] }])).toEqual({ tags: ['live', 'gift'] })
  // What was pinned goes before what the rules decided.
  expect(edited([{ do: 'tag', add: ['gift'], remove: [] }], { tags: ['old'] })).toEqual({ tags: ['old', 'gift'] })
})

test('a weight that is typed is what the items weigh with the correction', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1_000_000 }), (typed) => {
      const { weight } = edited([{ do: 'weigh', grams: grams(typed) }])
      return itemsWeight(order.items) + Number(weight) === typed
    }),
  )
})

test('values for each order go to theirs alone; one without a value stays as it is', () => {
  const edits: HandEdit[] = [{ do: 'each', of: 'priority', values: [[1, 'urgent']] }]
  const before: Pins = { preset: 'box-s' }
  expect(edited(edits, before)).toEqual({ preset: 'box-s', priority: 'urgent' })
  expect(edited(edits, before, 2)).toBe(before)
  expect(decisionsTouched([...edits, { do: 'weigh', grams: grams(5) }, { do: 'tag', add: ['a'], remove: [] }])).toEqual(
    ['priority', 'weight', 'tags'],
  )
})
