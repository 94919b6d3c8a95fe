import {
  currencySign,
  type DecimalSign,
  type Grams,
  type Millimetres,
  type MinorUnits,
  parseAmount,
  parseLength,
  parseSize,
  parseWeight,
  readNumber,
  signIn,
  type Size,
  toNumber,
} from '@/core/units'
import { locale, notation, units } from './locale'

/*
 * What a person types, read by the signs of the locale that the screen is in: what is shown can be typed again.
 */
const decimal = (): DecimalSign => notation().decimal

/** What a number without a unit is where pounds and inches are shown. */
const imperial: Readonly<Record<string, string>> = { g: 'oz', kg: 'lb', mm: 'in', cm: 'in' }
const bare = (unit: string): string => (units() === 'imperial' ? (imperial[unit] ?? unit) : unit)

/**
 * `1,234 g`, `2.5 kg`; a bare number takes the unit, or the one in its place. Null when it is no whole number of grams.
 */
export const typedWeight = (text: string, unit = 'g'): Grams | null => parseWeight(text, bare(unit), decimal())

/**
 * `42.5 cm`, `12 in`; a bare number takes the unit, or the one in its place. Null when it is no whole number of
 * millimetres.
 */
export const typedLength = (text: string, unit = 'cm'): Millimetres | null => parseLength(text, bare(unit), decimal())

/** Three sides with `×` between; the unit behind the last holds for all. Null when they are not three. */
export const typedSize = (text: string): Size | null => parseSize(text, bare('cm'), decimal())

/**
 * An amount with or without its currency, on either side: `€1,204.10`, `1204.10 EUR`. Null when it is no amount of that
 * currency.
 */
export function typedAmount(text: string, currency: string): MinorUnits | null {
  const names = [currency, signIn(locale(), currency), currencySign(currency), bareSigns[currency]]
  let bare = text.normalize('NFKC').trim()
  // The minus may stand before the sign, as Gharry writes it.
  const minus = /^[-−]/.test(bare) ? '-' : ''
  if (minus) bare = bare.slice(1).trim()
  for (const name of names.flatMap((each) => each?.normalize('NFKC').toLowerCase() ?? [])) {
    if (bare.toLowerCase().startsWith(name)) bare = bare.slice(name.length).trim()
    if (bare.toLowerCase().endsWith(name)) bare = bare.slice(0, -name.length).trim()
  }
  return parseAmount(minus + bare, currency, decimal())
}

/**
 * The currency that a typed amount names, before or after it, by its code or its sign; undefined when it names none.
 */
export function typedCurrency(text: string): string | undefined {
  const code = /(?:^|[^a-z])([a-z]{3})(?:$|[^a-z])/i.exec(text)?.[1]?.toUpperCase()
  if (code !== undefined) return code
  const wanted = text.normalize('NFKC').toUpperCase()
  // The signs of the reader first: `$` is theirs.
  return [...signsOf(locale()), ...signs].find(([sign]) => wanted.includes(sign))?.[1]
}

/** A plain number; undefined when it is none, or could be two. */
export function typedNumber(text: string): number | undefined {
  const number = readNumber(text, decimal())
  return number === null || number === 'ambiguous' ? undefined : toNumber(number)
}

/** A number that is written with a point, as the reader types it: with their own sign before decimals. */
export const asTyped = (plain: string): string => plain.replace(/(?<=\d)\.(?=\d)/, decimal())

/** Whether a code is one of a currency (ISO 4217), as the browser knows them. */
export const isCurrency = (code: string): boolean => Intl.supportedValuesOf('currency').includes(code)

/** Signs that several currencies share, and the one that is meant by them alone. */
const bareSigns: Readonly<Record<string, string>> = { USD: '$', JPY: '¥' }
const usual = ['EUR', 'GBP', 'USD', 'JPY', 'CAD', 'AUD', 'NZD', 'HKD', 'CNY', 'INR']

type Sign = readonly [sign: string, currency: string]
// The longer ones first: `CA$` holds `$`.
const longestFirst = (list: readonly Sign[]): readonly Sign[] => [...list].sort(([a], [b]) => b.length - a.length)
const signsOf = (of: string): readonly Sign[] =>
  longestFirst(usual.map((currency) => [signIn(of, currency).normalize('NFKC').toUpperCase(), currency]))
const signs = longestFirst([
  ...usual.map((currency) => [currencySign(currency), currency] as const),
  ...Object.entries(bareSigns).map(([currency, sign]) => [sign, currency] as const),
])
