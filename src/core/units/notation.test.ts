import fc from 'fast-check'
import {
  english,
  formatLength,
  formatMoney,
  formatWeight,
  money,
  notationOf,
  parseAmount,
  parseLength,
  parseWeight,
} from '.'

const locales = ['de-DE', 'en-US', 'ja-JP', 'fr-FR', 'pl-PL', 'nl-NL', 'de-CH', 'en-IN', 'sv-SE', 'ar-EG', 'en-GB']

test.each([
  ['de-DE', '1.204,10 €', '2,35 kg', '1.234,5 cm', '12.345'],
  ['en-US', '€1,204.10', '2.35 kg', '1,234.5 cm', '12,345'],
  ['ja-JP', '€1,204.10', '2.35 kg', '1,234.5 cm', '12,345'],
  ['fr-FR', '1 204,10 €', '2,35 kg', '1 234,5 cm', '12 345'],
  ['de-CH', "EUR 1'204.10", '2.35 kg', "1'234.5 cm", "12'345"],
])('%s writes amounts, weights, lengths and numbers so', (locale, amount, weight, length, number) => {
  const to = notationOf(locale)
  expect([to.money(money(120_410, 'EUR')), to.weight(2350), to.length(12_345), to.number(12_345)]).toEqual([
    amount,
    weight,
    length,
    number,
  ])
})

test('what is no locale is international English', () => {
  expect(['', 'x', 'not a locale', '*'].map((locale) => notationOf(locale))).toEqual([
    english,
    english,
    english,
    english,
  ])
  expect(english.money(money(500, 'PLN'))).toBe(formatMoney(money(500, 'PLN')))
})

describe.each(locales)('%s: what is written', (locale) => {
  const to = notationOf(locale)
  const whole = fc.integer({ min: -9_999_999, max: 9_999_999 })

  test('is read back, to the gram, the millimetre and the smallest coin', () => {
    fc.assert(
      fc.property(whole, (n) => {
        expect(parseWeight(to.weight(n), '', to.decimal)).toBe(n)
        expect(parseLength(to.length(n), '', to.decimal)).toBe(n)
        const bare = to
          .money(money(Math.abs(n), 'EUR'))
          .replace(/[^\d.,’' ]/g, '')
          .trim()
        expect(parseAmount(bare, 'EUR', to.decimal)).toBe(Math.abs(n))
      }),
    )
  })

  test('is in Latin digits, as in English but for signs and groups', () => {
    fc.assert(
      fc.property(whole, (n) => {
        const digits = (text: string): string => text.replace(/[^\d]/g, '')
        expect(digits(to.weight(n))).toBe(digits(formatWeight(n)))
        expect(digits(to.length(n))).toBe(digits(formatLength(n)))
        expect(digits(to.money(money(n, 'JPY')))).toBe(digits(formatMoney(money(n, 'JPY'))))
      }),
    )
  })
})

test.each([
  [0, '0 oz'],
  [28, '0.98 oz'],
  [454, '1 lb'],
  [567, '1 lb 4 oz'],
  [31_500, '69 lb 7.1 oz'],
  [-227, '-8 oz'],
])('%i g are %s', (grams, text) => {
  const imperial = notationOf('en-US', 'imperial')
  expect(imperial.weight(grams)).toBe(text)
})

test('what is written in pounds and inches is read back as the same grams and millimetres', () => {
  for (const locale of ['en-US', 'de-DE']) {
    const { weight, length, decimal } = notationOf(locale, 'imperial')
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2_000_000 }), (measure) => {
        expect(parseWeight(weight(measure), 'lb', decimal)).toBe(measure)
        expect(parseLength(length(measure), 'in', decimal)).toBe(measure)
      }),
      { numRuns: 3000 },
    )
  }
})
