import { type Grams, type Millimetres, type MinorUnits, parseAmount, parseLength, parseWeight } from '@/core/units'

/*
 * What a person types, read by the signs of the locale that the screen is in: what is shown can be typed again.
 */
const decimal = '.'

/** `1,234 g`, `2.5 kg`; a bare number takes the unit. Null when it is no whole number of grams. */
export const typedWeight = (text: string, unit = 'g'): Grams | null => parseWeight(text, unit, decimal)

/** `42.5 cm`, `12 in`; a bare number takes the unit. Null when it is no whole number of millimetres. */
export const typedLength = (text: string, unit = 'cm'): Millimetres | null => parseLength(text, unit, decimal)

/**
 * An amount with or without its currency, on either side: `€ 1,204.10`, `1204.10 EUR`. Null when it is no amount of
 * that currency.
 */
export function typedAmount(text: string, currency: string): MinorUnits | null {
  const names = [currency, ...(symbols[currency] ?? [])].map((name) => name.toLowerCase())
  let bare = text.trim()
  for (const name of names) {
    if (bare.toLowerCase().startsWith(name)) bare = bare.slice(name.length).trim()
    if (bare.toLowerCase().endsWith(name)) bare = bare.slice(0, -name.length).trim()
  }
  return parseAmount(bare, currency, decimal)
}

const symbols: Readonly<Record<string, readonly string[]>> = { EUR: ['€'], GBP: ['£'], USD: ['$'] }
