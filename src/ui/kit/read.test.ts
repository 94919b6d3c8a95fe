/** @jest-environment jsdom */
import fc from 'fast-check'
import { page } from './page.test-help'
import { money } from '@/core/units'
import {
  amount,
  bytes,
  count,
  dayWithYear,
  homeMoney,
  inUnits,
  lengthText,
  moneyText,
  orderCount,
  percent,
  plainHome,
  shortDay,
  shortTime,
  signOf,
  toneOfCost,
  weightText,
} from './format'
import {
  asTyped,
  isCurrency,
  typedAmount,
  typedCurrency,
  typedLength,
  typedNumber,
  typedSize,
  typedWeight,
} from './read'

beforeEach(() => page('en-GB'))

const readers = fc.tuple(
  fc.constantFrom('en-GB', 'de-DE', 'fr-FR', 'pl-PL', 'nl-BE', 'en-US', 'sv-SE', 'de-CH'),
  fc.constantFrom('metric', 'imperial'),
)

test('what is shown is read as the same, whoever reads it', () => {
  fc.assert(
    fc.property(
      readers,
      fc.nat(3_000_000),
      fc.constantFrom('EUR', 'GBP', 'USD', 'JPY', 'TND', 'CHF', 'PLN'),
      ([locale, units], n, currency) => {
        page(locale, currency, units)
        expect(typedAmount(moneyText(money(n, currency)), currency)).toBe(n)
        expect(typedAmount(moneyText(money(-n, currency)), currency)).toBe(n === 0 ? 0 : -n)
        expect(typedAmount(plainHome(n), currency)).toBe(n)
        expect(typedAmount(amount(n), currency)).toBe(n)
        if (units === 'metric') {
          expect(typedWeight(weightText(n))).toBe(n)
          expect(typedLength(lengthText(n))).toBe(n)
        }
        expect(typedNumber(asTyped(String(n / 100)))).toBeCloseTo(n / 100, 5)
      },
    ),
    { numRuns: 400 },
  )
})

test.each([
  ['en-GB', '1,234 g', 1234],
  ['en-GB', '1.5', null],
  ['en-GB', '0x10', null],
  ['en-GB', '2 lb 3 oz', 993],
  ['de-DE', '2,5 kg', 2500],
  ['de-DE', '1.234', 1234],
  ['pl-PL', '0,25 kg', 250],
  ['en-GB', 'heavy', null],
])('in %s the weight “%s” is %s g', (locale, text, grams) => {
  page(locale)
  expect(typedWeight(text)).toBe(grams)
})

// (What is no whole number of grams is rounded up: a carrier would.)
test('where ounces are shown, a bare number is ounces or pounds, and sides are inches', () => {
  page('en-US', 'USD', 'imperial')
  expect(typedWeight('16')).toBe(454)
  expect(typedWeight('2', 'kg')).toBe(908)
  expect(typedLength('10')).toBe(254)
  expect(typedSize('12 × 9 × 4')).toEqual([305, 229, 102])
  expect(typedSize('12 × 9')).toBeNull()
  expect(weightText(454)).toMatch(/lb|oz/)
})

test.each([
  ['30 × 20 × 5 cm', [300, 200, 50]],
  ['30x20x5', [300, 200, 50]],
  ['12 x 9 x 4 in', [305, 229, 102]],
  ['30 × 20', null],
  ['300mm x 20 cm * 5', [300, 200, 50]],
  ['30 × 20 × 5 lb', null],
  ['30 × 20 × 0 cm', null],
  ['a × b × c', null],
  ['', null],
])('the size “%s” is %j mm', (text, sides) => {
  page('en-GB')
  expect(typedSize(text)).toEqual(sides)
})

test.each([
  ['en-GB', '€1,204.10', 'EUR', 120_410],
  ['en-GB', '1204.10 EUR', 'EUR', 120_410],
  ['en-GB', '−€5', 'EUR', -500],
  ['en-GB', '300.00 £', 'GBP', 30_000],
  ['de-DE', '1.234,50 €', 'EUR', 123_450],
  ['en-GB', '¥500', 'JPY', 500],
  ['en-GB', '$5', 'EUR', null],
  ['en-GB', 'five', 'EUR', null],
  ['en-GB', '1.005', 'TND', 1005],
])('in %s “%s” of %s is %s', (locale, text, currency, minor) => {
  page(locale)
  expect(typedAmount(text, currency)).toBe(minor)
})

test('a currency is known by its code, and by its sign: of several, by the reader’s', () => {
  expect(typedCurrency('12 GBP')).toBe('GBP')
  expect(typedCurrency('eur 12')).toBe('EUR')
  expect(typedCurrency('£3')).toBe('GBP')
  expect(typedCurrency('12')).toBeUndefined()
  expect(typedCurrency('$5')).toBe('USD')
  page('en-CA')
  expect(typedCurrency('$5')).toBe('CAD')
  page('en-GB')
  expect(typedCurrency('CA$5')).toBe('CAD')
  expect(isCurrency('PLN')).toBe(true)
  expect(isCurrency('XYZ')).toBe(false)
})

test('amounts, counts, shares and sizes as people read them; what is unknown is a dash', () => {
  expect(homeMoney(120_410)).toBe('€1,204.10')
  expect(homeMoney(null)).toBe('–')
  expect(amount(undefined)).toBe('–')
  expect(plainHome(undefined)).toBe('')
  expect(count(12_345)).toBe('12,345')
  expect([orderCount(1), orderCount(0), orderCount(2103)]).toEqual(['1 order', '0 orders', '2,103 orders'])
  expect(percent(0.1234)).toBe('12.3 %')
  expect([bytes(1_234_000), bytes(56_000_000), bytes(7_890_000_000)]).toEqual(['1.2 MB', '56 MB', '7.9 GB'])
  expect([signOf(1), signOf(0), signOf(-1)]).toEqual(['+', '', '−'])
  expect(new Set([toneOfCost(1), toneOfCost(0), toneOfCost(-1)]).size).toBe(3)
})

test('days and times are of UTC, in the reader’s way; what is no time stays as it is', () => {
  expect(shortDay('2026-11-25')).toBe('25 Nov')
  expect(shortDay(null)).toBe('–')
  expect(dayWithYear('2027-11-25T23:59:00Z')).toBe('25 Nov 2027')
  expect(shortTime('2026-11-25T14:05:00Z')).toBe('25 Nov 14:05')
  expect(shortTime('soon')).toBe('soon soon')
  page('de-DE')
  expect(shortDay('2026-11-25')).toMatch(/^25\. Nov/)
})

test('a sentence that is kept in grams and metres says pounds and inches where those are shown', () => {
  const sentence = 'It weighs 2.5 kg, 500 g over; 120 cm is its side, MG-10 cm5 is its name.'
  expect(inUnits(sentence)).toBe(sentence)
  page('en-US', 'USD', 'imperial')
  const said = inUnits(sentence)
  expect(said).not.toMatch(/\d (?:kg|g|cm)\b(?!5)/)
  expect(said).toContain('in is its side')
  expect(said).toContain('MG-10 cm5')
})
