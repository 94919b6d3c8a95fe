import { minorDigits } from '@/core/units'

/** An amount as programs read it: a point before decimals, no sign of a currency. */
export function decimalAmount(minor: number, currency: string): string {
  const digits = minorDigits(currency)
  return (minor / 10 ** digits).toFixed(digits)
}
