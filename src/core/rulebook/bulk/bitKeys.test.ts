import fc from 'fast-check'
import { bitKeys } from './bitKeys'

test('numbers what was added by its words, wherever they stand, and finds nothing else', () => {
  const key = fc.tuple(fc.integer({ min: -2, max: 2 }), fc.integer(), fc.integer({ min: 0, max: 1 }))
  fc.assert(
    fc.property(fc.array(key, { maxLength: 400 }), fc.nat(3), (keys, from) => {
      const known = new Map<string, number>()
      const numbered = bitKeys(3)
      for (const words of keys) {
        const bits = Int32Array.from([...new Array<number>(from).fill(7), ...words])
        const wanted = known.get(String(words)) ?? -1
        expect(numbered.find(bits, from)).toBe(wanted)
        if (wanted >= 0) continue
        expect(numbered.add(bits, from)).toBe(known.size)
        expect([0, 1, 2].map((word) => numbered.wordOf(known.size, word))).toEqual([...words])
        known.set(String(words), known.size)
      }
      expect(numbered.count()).toBe(known.size)
    }),
    { numRuns: 200 },
  )
})
