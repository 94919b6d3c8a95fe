import { formatLength, formatWeight } from './measure'
import { formatMoney, type Money, minorDigits } from './money'
import type { DecimalSign } from './number'

/** How weights, lengths, amounts and numbers are written for a reader. */
export interface Notation {
  /** BCP 47. */
  readonly locale: string
  /** The sign before decimals, by which what is typed is read too. */
  readonly decimal: DecimalSign
  readonly money: (amount: Money) => string
  /** Grams: `850 g`, `2.35 kg`. */
  readonly weight: (grams: number) => string
  /** Millimetres: `8 mm`, `42.5 cm`. */
  readonly length: (millimetres: number) => string
  /** With so many decimals, no more and no fewer. */
  readonly number: (value: number, decimals?: number) => string
}

/** International English: what is kept, mailed and logged is written so. */
export const english: Notation = {
  locale: 'en-GB',
  decimal: '.',
  money: formatMoney,
  weight: formatWeight,
  length: formatLength,
  number: (value, decimals = 0) => numbers('en-GB', decimals, decimals).format(value),
}

const made = new Map<string, Notation>()

/**
 * The notation of a locale (BCP 47): its decimal sign, its groups, where it has the currency. Always in Latin digits,
 * and with common blanks, so that what is shown can be typed. International English for a locale that is none.
 */
export function notationOf(locale: string): Notation {
  const known = made.get(locale)
  if (known) return known
  const notation = wellFormed(locale) ? make(locale) : english
  made.set(locale, notation)
  return notation
}

function make(locale: string): Notation {
  const decimal = numbers(locale, 1, 1)
    .formatToParts(0.5)
    .find(({ type }) => type === 'decimal')?.value
  // Notation that cannot be read back helps nobody.
  if (decimal !== '.' && decimal !== ',') return english
  const upTo = (value: number, most: number): string => plain(numbers(locale, 0, most).format(value))
  return {
    locale,
    decimal,
    money: ({ minor, currency }) => plain(amounts(locale, currency).format(minor / 10 ** minorDigits(currency))),
    weight: (grams) => (Math.abs(grams) < 1000 ? `${grams} g` : `${upTo(grams / 1000, 3)} kg`),
    length: (millimetres) => (Math.abs(millimetres) < 10 ? `${millimetres} mm` : `${upTo(millimetres / 10, 1)} cm`),
    number: (value, decimals = 0) => plain(numbers(locale, decimals, decimals).format(value)),
  }
}

/** How a locale writes a currency: `$` for USD in en-US, `US$` in en-GB. */
export const signIn = (locale: string, currency: string): string =>
  amounts(notationOf(locale).locale, currency)
    .formatToParts(0)
    .find(({ type }) => type === 'currency')?.value ?? currency

// Marks of direction are for whole lines.
const plain = (text: string): string => text.replace(/[\u00a0\u202f]/g, ' ').replace(/[\u200e\u200f\u061c]/g, '')

function wellFormed(locale: string): boolean {
  try {
    return Intl.NumberFormat.supportedLocalesOf(locale).length > 0
  } catch {
    return false
  }
}

const formats = new Map<string, Intl.NumberFormat>()
function format(key: string, locale: string, options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const known = formats.get(key)
  if (known) return known
  const found = new Intl.NumberFormat(locale, { numberingSystem: 'latn', ...options })
  formats.set(key, found)
  return found
}

const numbers = (locale: string, least: number, most: number): Intl.NumberFormat =>
  format(`${locale} ${least} ${most}`, locale, { minimumFractionDigits: least, maximumFractionDigits: most })

function amounts(locale: string, currency: string): Intl.NumberFormat {
  const digits = minorDigits(currency)
  return format(`${locale} ${currency}`, locale, {
    style: 'currency',
    currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  })
}
