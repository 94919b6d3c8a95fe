import {
  currencySign,
  type Grams,
  type Millimetres,
  type MinorUnits,
  parseAmount,
  parseLength,
  parseWeight,
} from '@/core/units'

/*
 * What a person types, read by the signs of the locale that the screen is in: what is shown can be typed again.
 */
const decimal = '.'

/** `1,234 g`, `2.5 kg`; a bare number takes the unit. Null when it is no whole number of grams. */
export const typedWeight = (text: string, unit = 'g'): Grams | null => parseWeight(text, unit, decimal)

/** `42.5 cm`, `12 in`; a bare number takes the unit. Null when it is no whole number of millimetres. */
export const typedLength = (text: string, unit = 'cm'): Millimetres | null => parseLength(text, unit, decimal)

/**
 * An amount with or without its currency, on either side: `€1,204.10`, `1204.10 EUR`. Null when it is no amount of that
 * currency.
 */
export function typedAmount(text: string, currency: string): MinorUnits | null {
  const names = [currency, currencySign(currency), bareSigns[currency]].flatMap((name) => name?.toLowerCase() ?? [])
  let bare = text.trim()
  // The minus may stand before the sign, as Gharry writes it.
  const minus = /^[-−]/.test(bare) ? '-' : ''
  if (minus) bare = bare.slice(1).trim()
  for (const name of names) {
    if (bare.toLowerCase().startsWith(name)) bare = bare.slice(name.length).trim()
    if (bare.toLowerCase().endsWith(name)) bare = bare.slice(0, -name.length).trim()
  }
  return parseAmount(minus + bare, currency, decimal)
}

/** The currency that a typed amount names, before or after it, by its code or its sign; undefined when it names none. */
export function typedCurrency(text: string): string | undefined {
  const code = /(?:^|[^a-z])([a-z]{3})(?:$|[^a-z])/i.exec(text)?.[1]?.toUpperCase()
  if (code !== undefined) return code
  const wanted = text.toUpperCase()
  return signs.find(([sign]) => wanted.includes(sign))?.[1]
}

/** Whether a code is one of a currency (ISO 4217), as the browser knows them. */
export const isCurrency = (code: string): boolean => Intl.supportedValuesOf('currency').includes(code)

/** Signs that several currencies share, and the one that is meant by them alone. */
const bareSigns: Readonly<Record<string, string>> = { USD: '$', JPY: '¥' }
// The longer ones first: `CA$` holds `$`.
const signs: readonly (readonly [sign: string, currency: string])[] = [
  ...['EUR', 'GBP', 'USD', 'JPY', 'CAD', 'AUD', 'NZD', 'HKD', 'CNY', 'INR'].map(
    (currency) => [currencySign(currency), currency] as const,
  ),
  ...Object.entries(bareSigns).map(([currency, sign]) => [sign, currency] as const),
].sort(([a], [b]) => b.length - a.length)
