import fc from 'fast-check'
import { isGtin } from '@/core/order'
import { type BenchLine, isComplete, isNear, judgeScan, readCode } from './index'

const gtinOf = (twelve: string): string => {
  const sum = [...`0${twelve}`].reduce((all, digit, i) => all + Number(digit) * (i % 2 === 0 ? 3 : 1), 0)
  return `0${twelve}${(10 - (sum % 10)) % 10}`
}
const digits = (n: number) => fc.stringMatching(new RegExp(`^[0-9]{${n}}$`))

describe('a code', () => {
  test.each([
    ['EAN-13', '9506000134352', { kind: 'item', gtin: '09506000134352', pieces: 1 }],
    ['with another check digit it is a text', '9506000134353', { kind: 'text', text: '9506000134353' }],
    ['EAN-8', '96385074', { kind: 'item', gtin: '00000096385074', pieces: 1 }],
    [
      'GS1 DataMatrix',
      ']d201095060001343521725123110AB12\u001d3705',
      { kind: 'item', gtin: '09506000134352', pieces: 5 },
    ],
    ['GS1-128 with brackets', '(01)09506000134352(10)A(17)251231', { kind: 'item', gtin: '09506000134352', pieces: 1 }],
    [
      'brackets, with a count behind a lot',
      '(01)09506000134352(10)AB12(37)12',
      { kind: 'item', gtin: '09506000134352', pieces: 12 },
    ],
    ['bare element string', '0109506000134352', { kind: 'item', gtin: '09506000134352', pieces: 1 }],
    ['SSCC', '00354900010000000011', { kind: 'unit', sscc: '354900010000000011' }],
    ['digits that begin like an identifier stay a text', '4006381333930', { kind: 'text', text: '4006381333930' }],
    ['a SKU', 'PLT-ANUB-NANA\r\n', { kind: 'text', text: 'PLT-ANUB-NANA' }],
  ])('%s', (_what, scanned, read) => expect(readCode(scanned)).toEqual(read))

  test.each([
    ['nothing', '  \r', /Nothing was read/],
    ['a QR code with a link', 'https://mossgill.example/p/1', /link to a page/],
    ['10,000 characters', 'x'.repeat(10_000), /10000 characters/],
    ['an element string that is cut off', ']d2010950600', /damaged|no item/],
    ['one that names no item', ']C110AB12', /no item/],
  ])('%s', (_what, scanned, why) =>
    expect(readCode(scanned)).toMatchObject({ kind: 'unreadable', why: expect.stringMatching(why) as string }),
  )

  test('a check digit tells every wrong digit', () => {
    fc.assert(
      fc.property(digits(12), fc.nat(12), fc.integer({ min: 1, max: 9 }), (twelve, at, by) => {
        const right = gtinOf(twelve).slice(1)
        expect(isGtin(right)).toBe(true)
        const wrong = [...right].map((digit, i) => (i === at ? String((Number(digit) + by) % 10) : digit)).join('')
        expect(isGtin(wrong)).toBe(false)
      }),
    )
  })

  test('no text, however odd, throws', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 60, unit: fc.constantFrom('(', ')', ']', 'd', '2', '0', '1', '\u001d', 'C', '/', ':') }),
        (text) => void readCode(text),
      ),
    )
  })
})

const line = (sku: string, quantity: number, ...gtins: string[]): BenchLine => ({ sku, title: sku, quantity, gtins })

describe('a scan', () => {
  const parcel = {
    lines: [line('A', 2, '09506000134352'), line('B', 1), line('A', 1)],
    own: ['MG-1', '00354900010000000011'],
  }
  test.each([
    ['an item', [0, 0, 0], 'a', null, { verdict: 'right', line: 0, pieces: 1 }],
    ['its GTIN', [1, 0, 0], '9506000134352', null, { verdict: 'right', line: 0, pieces: 1 }],
    ['of two lines with the same, the one with room', [2, 0, 0], 'A', null, { verdict: 'right', line: 2, pieces: 1 }],
    ['one too many', [0, 1, 0], 'B', null, { verdict: 'surplus', line: 1 }],
    ['a typed quantity', [0, 0, 0], 'A', 2, { verdict: 'right', line: 0, pieces: 2 }],
    ['a typed quantity that is too many', [1, 0, 1], 'A', 2, { verdict: 'surplus', line: 0 }],
    ['another item', [0, 0, 0], 'C', null, { verdict: 'wrong', code: 'C' }],
    ['its own slip', [0, 0, 0], 'mg-1', null, { verdict: 'own' }],
    ['its own label', [0, 0, 0], ']C100354900010000000011', null, { verdict: 'own' }],
    ['another label', [0, 0, 0], '00354900010000000028', null, { verdict: 'wrong', code: '00354900010000000028' }],
  ])('%s', (_what, counted, code, typed, verdict) => expect(judgeScan(parcel, counted, code, typed)).toEqual(verdict))

  test('whatever is scanned in whatever order, a parcel is complete exactly when it holds what belongs there, and never more', () => {
    const skus = ['A', 'B', 'C']
    const lines = fc.array(fc.record({ sku: fc.constantFrom(...skus), quantity: fc.integer({ min: 1, max: 3 }) }), {
      minLength: 1,
      maxLength: 4,
    })
    fc.assert(
      fc.property(lines, fc.array(fc.constantFrom(...skus, 'X'), { maxLength: 30 }), (given, scans) => {
        const own = { lines: given.map(({ sku, quantity }) => line(sku, quantity)), own: [] }
        const counted = own.lines.map(() => 0)
        const wanted = new Map(
          skus.map((sku) => [
            sku,
            given.filter((one) => one.sku === sku).reduce((sum, { quantity }) => sum + quantity, 0),
          ]),
        )
        const inside = new Map(skus.map((sku) => [sku, 0]))
        for (const scan of scans) {
          const said = judgeScan(own, counted, scan)
          const room = (inside.get(scan) ?? 0) < (wanted.get(scan) ?? 0)
          expect(said.verdict === 'right').toBe(room)
          if (said.verdict !== 'right') continue
          counted[said.line]! += said.pieces
          inside.set(scan, inside.get(scan)! + 1)
        }
        expect(isComplete(own, counted)).toBe(skus.every((sku) => inside.get(sku) === wanted.get(sku)))
      }),
    )
  })
})

test('a scale may be off by a filling, or by four in a hundred', () => {
  expect(isNear(115, 100)).toBe(true)
  expect(isNear(116, 100)).toBe(false)
  expect(isNear(5200, 5000)).toBe(true)
  expect(isNear(4790, 5000)).toBe(false)
})
