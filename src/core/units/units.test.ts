import fc from 'fast-check'
import { formatLength, formatMoney, formatWeight, minorDigits, money, parseAmount, parseLength, parseWeight, toHome } from './index'

test('amounts are read whole, whatever the separators', () => {
  expect(['12', '12.5', '12,50', '1,234.50', '1.234,50', '1 234,50', '-3.00', '1234'].map((text) => parseAmount(text, 'EUR'))).toEqual([1200, 1250, 1250, 123450, 123450, 123450, -300, 123400])
  expect(['', 'abc', '1.2.3', '12.345', '1e3', '--1', '9'.repeat(30)].map((text) => parseAmount(text, 'EUR'))).toEqual([null, null, null, 1234500, null, null, null])
  expect([parseAmount('500', 'JPY'), parseAmount('500.5', 'JPY'), parseAmount('1.234', 'KWD')]).toEqual([500, null, 1234])
  expect([minorDigits('EUR'), minorDigits('JPY'), minorDigits('KWD')]).toEqual([2, 0, 3])
})

test('an amount written is the amount read', () => {
  fc.assert(fc.property(fc.integer({ min: -99_999_999, max: 99_999_999 }), (minor) => {
    expect(parseAmount((minor / 100).toFixed(2), 'EUR')).toBe(minor)
    expect(parseAmount(formatMoney(money(minor, 'EUR')).replace(' €', ''), 'EUR')).toBe(minor)
  }))
})

test('a currency without a rate is never guessed', () => {
  const rates = { home: 'EUR', micro: { GBP: 1_163_500, JPY: 6_100 } }
  expect(toHome(money(1000, 'GBP'), rates)).toBe(1164)
  expect(toHome(money(1000, 'JPY'), rates)).toBe(610)
  expect(toHome(money(1000, 'EUR'), rates)).toBe(1000)
  expect(toHome(money(1000, 'SEK'), rates)).toBeNull()
})

test('weights and lengths are whole units, rounded up', () => {
  expect(['250 g', '1.2 kg', '1,2kg', '0.1 kg', '1 lb', '2 oz', 'heavy', '3 stone'].map((text) => parseWeight(text))).toEqual([250, 1200, 1200, 100, 454, 57, null, null])
  expect(['30 cm', '12 in', '300', '1 m'].map((text) => parseLength(text))).toEqual([300, 305, 300, 1000])
  expect([formatWeight(850), formatWeight(2350), formatWeight(1_234_000), formatWeight(-1500), formatLength(8), formatLength(425)]).toEqual(['850 g', '2.35 kg', '1,234 kg', '-1.5 kg', '8 mm', '42.5 cm'])
})
