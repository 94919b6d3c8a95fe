/** @jest-environment jsdom */
import { measured } from '@/core/units'
import fc from 'fast-check'
import type { WordingRow } from '@/core/world'
import { emptyRow, readRow, rowForm } from './wordingRow'

const band = (most: number): fc.Arbitrary<readonly [number, number]> =>
  fc.oneof(
    fc.tuple(fc.nat(most), fc.nat(most)).map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]),
    fc.nat(most).map((low): [number, number] => [low, 1_000_000_000]),
  )
const anyRow: fc.Arbitrary<WordingRow> = fc
  .record({
    wording: fc.constantFrom('Standard', 'Exp. 2-day', '*810*'),
    countries: fc.option(fc.uniqueArray(fc.constantFrom('BE', 'NL', 'DE'), { minLength: 1 }), { nil: undefined }),
    weight: fc.option(band(500_000), { nil: undefined }),
    value: fc.option(band(5_000_000), { nil: undefined }),
    speed: fc.constantFrom('express' as const, 'standard' as const),
    preset: fc.option(fc.constantFrom('box-m', 'bag'), { nil: undefined }),
    pick: fc.option(fc.constantFrom({ by: 'cheapest' as const }, { by: 'service' as const, service: 'heron-road' }), {
      nil: undefined,
    }),
  })
  .map(({ wording, countries, weight, value, speed, preset, pick }) => ({
    wording,
    ...(countries ? { countries } : {}),
    ...(weight ? { weight } : {}),
    ...(value ? { value } : {}),
    gives: { speed, ...(preset ? { preset } : {}), ...(pick ? { pick } : {}) },
  }))
  .map((row) => measured<WordingRow>(row))

test('a row is read back as it was shown', () => {
  fc.assert(
    fc.property(anyRow, (row) => expect(readRow(rowForm(row))).toEqual(row)),
    { numRuns: 500 },
  )
})

test.each([
  [{ wording: ' ' }, /no wording/],
  [{ countries: 'BEL' }, /"BEL" is no country/],
  [{ weight: '5 kg – 2 kg' }, /no weight band/],
  [{ weight: 'from heavy' }, /no weight band/],
  [{ weight: '1 kg – 2 kg – 3 kg' }, /no weight band/],
  [{ value: 'to −5' }, /no value band/],
  [{ speed: '' as const }, /means nothing/],
])('what makes no sense is said: %j', (change, sentence) =>
  expect(readRow({ ...emptyRow, wording: 'Standard', speed: 'express', ...change })).toMatch(sentence),
)

test.each([
  ['to 2 kg', [0, 2000]],
  ['up to 2 kg', [0, 2000]],
  ['from 500 g', [500, 1_000_000_000]],
  ['1 kg to 2,5 kg', [1000, 2500]],
  ['1kg..2kg', [1000, 2000]],
  ['300 - 400', [300, 400]],
])('a weight band typed as %j', (weight, wanted) => {
  expect(readRow({ ...emptyRow, wording: 'Standard', speed: 'express', weight })).toMatchObject({ weight: wanted })
})
