import { formatLength, formatWeight, gramsPer, millimetresPer } from './measure'
import { formatMoney, type Money, minorDigits } from './money'
import type { DecimalSign } from './number'

/**
 * In which units weights and lengths are shown, and what a number without one means. Inside, all are grams and
 * millimetres.
 */
export const unitSystems = ['metric', 'imperial'] as const
export type UnitSystem = (typeof unitSystems)[number]

/** How weights, lengths, amounts and numbers are written for a reader. */
export interface Notation {
  /** BCP 47. */
  readonly locale: string
  /** The sign before decimals, by which what is typed is read too. */
  readonly decimal: DecimalSign
  readonly units: UnitSystem
  readonly money: (amount: Money) => string
  /** Grams: `850 g`, `2.35 kg`; `12.34 oz`, `1 lb 4 oz`. What is written is read back as the same grams. */
  readonly weight: (grams: number) => string
  /** Millimetres: `8 mm`, `42.5 cm`; `12.25 in`. */
  readonly length: (millimetres: number) => string
  /** With so many decimals, no more and no fewer. */
  readonly number: (value: number, decimals?: number) => string
}

/** International English: what is kept, mailed and logged is written so. */
export const english: Notation = {
  locale: 'en-GB',
  decimal: '.',
  units: 'metric',
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
export function notationOf(locale: string, units: UnitSystem = 'metric'): Notation {
  const key = `${locale} ${units}`
  const known = made.get(key)
  if (known) return known
  const notation = inUnits(wellFormed(locale) ? make(locale) : english, units)
  made.set(key, notation)
  return notation
}

/** The notation in other units; each measure in the fewest decimals that are read back as it was. */
function inUnits(notation: Notation, units: UnitSystem): Notation {
  if (units === 'metric') return notation
  const written = (measure: number, per: number): readonly [value: number, decimals: number] => {
    for (let decimals = 0; ; decimals++) {
      const power = 10 ** decimals
      const value = Math.floor((measure / per) * power + 1e-9) / power
      // What is typed is rounded up, so nothing is shown as more than it is.
      if (Math.ceil(value * per - 1e-6) >= measure || decimals === 3) return [value, decimals]
    }
  }
  return {
    ...notation,
    units,
    weight: (grams) => {
      const [ounces, decimals] = written(Math.abs(grams), gramsPer.oz!)
      const pounds = Math.floor(ounces / 16)
      const rest = ounces - pounds * 16
      const parts = [
        ...(pounds > 0 ? [`${notation.number(pounds)} lb`] : []),
        ...(rest > 0 || pounds === 0 ? [`${notation.number(rest, decimals)} oz`] : []),
      ]
      return `${grams < 0 ? '-' : ''}${parts.join(' ')}`
    },
    length: (millimetres) => {
      const [inches, decimals] = written(Math.abs(millimetres), millimetresPer.in!)
      return `${millimetres < 0 ? '-' : ''}${notation.number(inches, decimals)} in`
    },
  }
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
    units: 'metric',
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
