import fc from 'fast-check'
import { byBits } from './byBits'

test('finds what was added under the same words, and nothing else', () => {
  const key = fc.tuple(fc.integer({ min: -2, max: 2 }), fc.integer(), fc.integer({ min: 0, max: 1 }))
  fc.assert(fc.property(fc.array(key, { maxLength: 400 }), (keys) => {
    const known = new Map<string, number>()
    const things = byBits<number>(3)
    keys.forEach((words, i) => {
      const bits = Int32Array.from(words)
      const wanted = known.get(String(bits))
      expect(things.find(bits)).toBe(wanted)
      if (wanted !== undefined) return
      known.set(String(bits), i)
      expect(things.add(bits, i)).toBe(i)
    })
    expect(things.all).toEqual([...known.values()])
  }), { numRuns: 200 })
})
