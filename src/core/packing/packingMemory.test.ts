import { grams, measured } from '@/core/units'
import fc from 'fast-check'
import { anyOrder, testWorld } from '../rulebook/language/arbitraries.test-help'
import { pack, type PackingWishes, packSmaller } from './pack'
import { packingMemory } from './packingMemory'

const anyWishes: fc.Arbitrary<PackingWishes> = fc
  .record({
    preset: fc.constantFrom(null, ...testWorld.presets.map(({ id }) => id)),
    added: fc.constantFrom(0, 60, -10),
    apart: fc.constantFrom([], ['live']),
    limits: fc.constantFrom(null, { weight: 2000 }, { pieces: 1 }),
  })
  .map((plain) => measured<PackingWishes>(plain))

test('what was packed before is packed the same: the memory never mixes up two baskets, nor two wishes', () => {
  const { presets } = testWorld
  const remembered = packingMemory(presets)
  fc.assert(
    fc.property(fc.array(fc.tuple(anyOrder, anyWishes, fc.boolean()), { minLength: 2, maxLength: 8 }), (asked) => {
      for (const [{ items }, wishes, smaller] of [...asked, ...asked].filter(([order]) => order.items.length > 0)) {
        const packed = pack(items, presets, wishes)
        const others = packed.ok && smaller ? packSmaller(items, presets, wishes, packed.parcels) : []
        expect(remembered(items, wishes, smaller)).toEqual({ packed, others })
      }
    }),
  )
})

test('it forgets, and is right again', () => {
  const remembered = packingMemory(testWorld.presets, 3)
  const items = fc.sample(
    anyOrder.filter((order) => order.items.length > 0),
    1,
  )[0]!.items
  const wishes = { preset: null, added: grams(0) }
  const first = remembered(items, wishes, false)
  expect(remembered(items, wishes, false)).toBe(first)
  for (let added = 1; added < 20; added++) remembered(items, { ...wishes, added: grams(added) }, false)
  expect(remembered(items, wishes, false)).not.toBe(first)
  expect(remembered(items, wishes, false)).toEqual(first)
})
