import fc from 'fast-check'
import { formatLength, formatWeight, parseLength, parseWeight, plainLength, plainWeight } from './measure'
import {
  conversionTo,
  convert,
  currencySign,
  formatMoney,
  leastBefore,
  minorDigits,
  money,
  parseAmount,
  plainAmount,
  toHome,
} from './money'
import { ambiguity, readNumber } from './number'

test('amounts are read whole, whatever the separators', () => {
  expect(
    ['12', '12.5', '12,50', '1,234.50', '1.234,50', '1 234,50', '-3.00', '1234'].map((text) =>
      parseAmount(text, 'EUR'),
    ),
  ).toEqual([1200, 1250, 1250, 123450, 123450, 123450, -300, 123400])
  expect(['', 'abc', '1.2.3', '12.345', '1e3', '--1', '9'.repeat(30)].map((text) => parseAmount(text, 'EUR'))).toEqual([
    null,
    null,
    null,
    null,
    null,
    null,
    null,
  ])
  expect([parseAmount('500', 'JPY'), parseAmount('500.5', 'JPY'), parseAmount('1.234', 'KWD')]).toEqual([
    500,
    null,
    1234,
  ])
  expect([minorDigits('EUR'), minorDigits('JPY'), minorDigits('KWD')]).toEqual([2, 0, 3])
})

test('an amount written is the amount read', () => {
  fc.assert(
    fc.property(fc.integer({ min: -99_999_999, max: 99_999_999 }), (minor) => {
      expect(parseAmount((minor / 100).toFixed(2), 'EUR')).toBe(minor)
      expect(parseAmount(formatMoney(money(minor, 'EUR')).replace('€', ''), 'EUR')).toBe(minor)
    }),
  )
})

test('a currency without a rate is never guessed', () => {
  const rates = { home: 'EUR', micro: { GBP: 1_163_500, JPY: 6_100 } }
  expect(toHome(money(1000, 'GBP'), rates)).toBe(1164)
  expect(toHome(money(1000, 'JPY'), rates)).toBe(610)
  expect(toHome(money(1000, 'EUR'), rates)).toBe(1000)
  expect(toHome(money(1000, 'SEK'), rates)).toBeNull()
})

test('weights and lengths are whole units, rounded up', () => {
  expect(
    ['250 g', '1.2 kg', '1,2kg', '0.1 kg', '1 lb', '2 oz', 'heavy', '3 stone'].map((text) => parseWeight(text)),
  ).toEqual([250, 1200, 1200, 100, 454, 57, null, null])
  expect(['30 cm', '12 in', '300', '1 m'].map((text) => parseLength(text))).toEqual([300, 305, 300, 1000])
  expect([
    formatWeight(850),
    formatWeight(2350),
    formatWeight(1_234_000),
    formatWeight(-1500),
    formatLength(8),
    formatLength(425),
  ]).toEqual(['850 g', '2.35 kg', '1,234 kg', '-1.5 kg', '8 mm', '42.5 cm'])
})

test('a comma or point before exactly three digits is read by the sign of its place, and never guessed', () => {
  for (const text of ['1,234', '1.234', '5.999', '12,500', '-1,234']) expect(readNumber(text)).toBe('ambiguous')
  expect(['5.999', '9.999', '1,234', '1.234'].map((text) => parseAmount(text, 'EUR'))).toEqual([null, null, null, null])
  expect(['1,500 kg', '1.500 kg', '1,234 g', '0x10', '0x10 g', '1e3 g'].map((text) => parseWeight(text))).toEqual([
    null,
    null,
    null,
    null,
    null,
    null,
  ])
  expect([
    parseAmount('1,234', 'EUR', '.'),
    parseAmount('1.234', 'EUR', ','),
    parseAmount('1.234', 'EUR', '.'),
    parseAmount('1.234', 'KWD', ','),
  ]).toEqual([123400, 123400, null, 1234000])
  expect([
    parseWeight('1,234 g', 'g', '.'),
    parseWeight('1.234 kg', 'g', '.'),
    parseWeight('1,234 kg', 'g', ','),
    parseWeight('1,234.5 kg', 'g'),
    parseWeight('0.500 kg'),
  ]).toEqual([1234, 1234, 1234, 1_234_500, 500])
  expect(ambiguity('1,500 kg')).toBe(
    '"1,500 kg" could be 1500 or 1.5000: write it without the comma, or with another number of decimals.',
  )
  expect([ambiguity('€ 5.999'), ambiguity('1,50'), ambiguity('heavy')].map(Boolean)).toEqual([true, false, false])
})

test('nothing is rounded unsaid: fractions of a gram or a millimetre are refused, pounds and inches are rounded up', () => {
  expect(
    ['0.5 g', '1.5', '1.2345 kg', '12.34 mm', '1.25 cm'].map((text) => parseWeight(text) ?? parseLength(text)),
  ).toEqual([null, null, null, null, null])
  expect([parseWeight('0.25 oz'), parseLength('2.5 in'), parseLength('1.5 cm')]).toEqual([8, 64, 15])
  expect(['9'.repeat(80), '1'.repeat(70) + ' kg', '99999999999999 t'].map((text) => parseWeight(text))).toEqual([
    null,
    null,
    null,
  ])
})

test('every weight, length and amount that is written for files and fields is read back', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -2_000_000_000, max: 2_000_000_000 }),
      fc.constantFrom('EUR', 'JPY', 'KWD', 'USD'),
      (n, currency) => {
        expect(parseWeight(plainWeight(n))).toBe(n)
        expect(parseLength(plainLength(n))).toBe(n)
        expect(parseAmount(plainAmount(money(n, currency)), currency)).toBe(n)
        // What is shown is read in the locale it is shown in.
        expect(parseWeight(formatWeight(n), 'g', '.')).toBe(n)
        expect(parseLength(formatLength(n), 'mm', '.')).toBe(n)
        expect(parseAmount(formatMoney(money(n, currency)).replace(currencySign(currency), ''), currency, '.')).toBe(n)
      },
    ),
  )
})

test('amounts go from one currency to another by the digits of both, exactly, and back to the smallest that comes to as much', () => {
  expect(toHome(money(10_000, 'JPY'), { home: 'EUR', micro: { JPY: 6_100 } })).toBe(6100)
  expect(toHome(money(1_000, 'EUR'), { home: 'JPY', micro: { EUR: 163_000_000 } })).toBe(1630)
  expect(toHome(money(1_234, 'KWD'), { home: 'JPY', micro: { KWD: 500_000_000 } })).toBe(617)
  const digits = { EUR: 2, USD: 2, JPY: 0, KWD: 3, IDR: 2 } as const
  const currency = fc.constantFrom<keyof typeof digits>('EUR', 'USD', 'JPY', 'KWD', 'IDR')
  fc.assert(
    fc.property(
      currency,
      currency,
      fc.integer({ min: 1, max: 30_000_000_000 }),
      fc.integer({ min: -5_000_000_000, max: 5_000_000_000 }),
      (home, other, micro, minor) => {
        fc.pre(home !== other)
        const conversion = conversionTo({ home, micro: { [other]: micro } }, other)!
        // By hand, in whole numbers: minor × micro ÷ 10⁶ × 10^(home's digits − the other's), half up.
        const [up, down] = [10n ** BigInt(digits[home]), 10n ** BigInt(digits[other])]
        const half = BigInt(minor) * BigInt(micro) * up * 2n + 1_000_000n * down
        const over = 2_000_000n * down
        const floor = half >= 0n ? half / over : -((-half + over - 1n) / over)
        const got = convert(minor, conversion)
        if (Number.isSafeInteger(Number(floor))) expect(BigInt(got)).toBe(floor)
        if (Number.isSafeInteger(got) && got > 0) {
          const back = leastBefore(got, conversion)
          expect(back).toBeLessThanOrEqual(minor)
          expect(convert(back, conversion)).toBeGreaterThanOrEqual(got)
          if (Number.isSafeInteger(back)) expect(convert(back - 1, conversion)).toBeLessThan(got)
        }
      },
    ),
    { numRuns: 2000 },
  )
})

test.each([
  ['1 lb 4 oz', 567],
  ['1lb4oz', 567],
  ['1 lb 4', 567],
  ['20 oz', 567],
  ['-1 lb 4 oz', -566],
  ['2 lbs 0.5 oz', 922],
  ['1,5 lb', 681],
  ['1.234,5 g', null],
  ['1.234,5 kg', 1_234_500],
  ['1 lb 16 oz', null],
  ['1.5 lb 4 oz', null],
  ['1 lb 4 in', null],
  ['1 lb -4 oz', null],
  ['4 oz 1 lb', null],
  ["5'", null],
])('“%s” is a weight of %s g', (text, weight) => {
  expect(parseWeight(text, '')).toBe(weight)
})

test.each([
  ["5'", 1524],
  ['5\' 3"', 1601],
  ['5 ft 3 in', 1601],
  ['12 in', 305],
  ['9"', 229],
  ['5\' 13"', null],
  ["5.5' 3", null],
  ['1 lb', null],
])('“%s” is a length of %s mm', (text, length) => {
  expect(parseLength(text, '')).toBe(length)
})

test('pounds and ounces are what they come to in ounces alone', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 0, max: 15 }), (pounds, ounces) => {
      expect(parseWeight(`${pounds} lb ${ounces} oz`)).toBe(parseWeight(`${pounds * 16 + ounces} oz`))
      expect(parseLength(`${pounds} ft ${ounces % 12} in`)).toBe(parseLength(`${pounds * 12 + (ounces % 12)} in`))
    }),
  )
})
