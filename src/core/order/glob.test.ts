import fc from 'fast-check'
import { glob } from './glob'

test('stars and question marks', () => {
  expect([
    glob('exp*day')('exp. 2-day'),
    glob('*')(''),
    glob('?')(''),
    glob('a?c')('abc'),
    glob('*b*')('abc'),
    glob('a*a')('a'),
    glob('')(''),
  ]).toEqual([true, true, false, true, true, false, true])
})

test('agrees with a regular expression', () => {
  const letters = fc.constantFrom('a', 'b', '*', '?')
  fc.assert(
    fc.property(
      fc.array(letters, { maxLength: 8 }),
      fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 10 }),
      (pattern, text) => {
        const wanted = new RegExp(`^${pattern.join('').replace(/\*+/g, '.*').replace(/\?/g, '.')}$`).test(text.join(''))
        expect(glob(pattern.join(''))(text.join(''))).toBe(wanted)
      },
    ),
    { numRuns: 1000 },
  )
})

test('no pattern makes it backtrack', () => {
  const pattern = glob(`${'a*'.repeat(200)}b`)
  expect(pattern('a'.repeat(5000))).toBe(false)
  expect(glob('*'.repeat(10_000))('x')).toBe(true)
})
