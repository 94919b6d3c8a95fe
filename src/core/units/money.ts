import { minorUnits, type MinorUnits } from './brands'
import { type DecimalSign, readNumber, timesTen } from './number'

/** An amount in whole minor units of an ISO 4217 currency. */
export interface Money {
  readonly minor: MinorUnits
  readonly currency: string
}

/**
 * Exchange rates of one day: how many units of the home currency one unit of a currency buys, times 1,000,000.
 * The home currency itself need not be listed.
 */
export interface Rates {
  readonly home: string
  readonly micro: Readonly<Record<string, number>>
}

// ISO 4217, list one (2024): currencies whose minor unit has not two digits. Engines ship lists that differ from it
// and from each other.
const otherDigits = new Map<string, number>([
  ...[
    'BIF',
    'CLP',
    'DJF',
    'GNF',
    'ISK',
    'JPY',
    'KMF',
    'KRW',
    'PYG',
    'RWF',
    'UGX',
    'UYI',
    'VND',
    'VUV',
    'XAF',
    'XOF',
    'XPF',
  ].map((code) => [code, 0] as const),
  ...['BHD', 'IQD', 'JOD', 'KWD', 'LYD', 'OMR', 'TND'].map((code) => [code, 3] as const),
  ...['CLF', 'UYW'].map((code) => [code, 4] as const),
])

/** How many decimal digits a currency's minor unit has (ISO 4217): EUR 2, JPY 0, KWD 3. */
export const minorDigits = (currency: string): number => otherDigits.get(currency) ?? 2

/** An amount in minor units of a currency (ISO 4217). */
export const money = (minor: number, currency: string): Money => ({ minor: minorUnits(minor), currency })

/**
 * Reads a decimal amount such as `1234.50`, `1.234,50`, `1 234,5` or `12` (see `readNumber`); never through floating
 * point. Returns null when the text is no amount, has more decimals than the currency, or could mean two amounts:
 * `1,234` in euros. Where a currency has three decimals, `1.234` with a point is the full amount, as Gharry writes it.
 */
export function parseAmount(text: string, currency: string, decimal?: DecimalSign): MinorUnits | null {
  const digits = minorDigits(currency)
  let written = readNumber(text, decimal)
  if (written === 'ambiguous' && digits === 3 && text.includes('.')) written = readNumber(text, '.')
  if (written === null || written === 'ambiguous') return null
  const minor = timesTen(written, digits)
  return minor === null ? null : minorUnits(minor)
}

/** How amounts of one currency become amounts of another: minor units × `times` ÷ `over`, both whole numbers. */
export interface Conversion {
  readonly times: number
  readonly over: number
}

/**
 * From a currency to the home currency; null when there is no rate. The rate is per unit, amounts are minor units, so
 * the digits of both currencies count: ¥10,000 (no digits) at 6,100 micro is €61.00, that is 10,000 × 610,000 ÷
 * 1,000,000 cents.
 */
export function conversionTo({ home, micro }: Rates, currency: string): Conversion | null {
  if (currency === home) return { times: 1, over: 1 }
  const rate = micro[currency]
  if (rate === undefined || !(rate > 0)) return null
  const shift = minorDigits(home) - minorDigits(currency)
  return { times: rate * 10 ** Math.max(0, shift), over: 1_000_000 * 10 ** Math.max(0, -shift) }
}

/** An amount by a conversion, rounded half up to the minor unit; exact for every safe integer. */
export function convert(minor: number, { times, over }: Conversion): number {
  if (times === over) return minor
  const product = minor * times
  if (Number.isSafeInteger(product + over)) return Math.floor((product + over / 2) / over)
  return Number(floorDivided(BigInt(minor) * BigInt(times) * 2n + BigInt(over), BigInt(over) * 2n))
}

/**
 * The smallest amount that becomes at least `minor` by a conversion. So 300.00 $, brought into euros and back, is
 * 300.00 $ and not a cent more, whichever way it was rounded.
 */
export function leastBefore(minor: number, { times, over }: Conversion): number {
  if (times === over) return minor
  const product = minor * over
  if (Number.isSafeInteger(product + over)) return Math.ceil((product - over / 2) / times) + 0
  return Number(-floorDivided(BigInt(over) - BigInt(minor) * BigInt(over) * 2n, BigInt(times) * 2n))
}

const floorDivided = (a: bigint, b: bigint): bigint => (a >= 0n ? a / b : -((-a + b - 1n) / b))

/**
 * The amount in the home currency, rounded half up to its minor unit. Returns null when there is no rate for the
 * currency: nobody guesses one.
 */
export function toHome(amount: Money, rates: Rates): MinorUnits | null {
  if (amount.currency === rates.home) return amount.minor
  const conversion = conversionTo(rates, amount.currency)
  return conversion && minorUnits(convert(amount.minor, conversion))
}

/** The home currency where nobody has said another: of a world before anything is known of it. */
export const usualHome = 'EUR'

const formats = new Map<string, Intl.NumberFormat>()

/**
 * `€1,204.10`, `JP¥10,000`, `PLN 5.00`: as readers of international English write it (`Intl`, en-GB), with the
 * currency's own digits. No two currencies look alike.
 */
export function formatMoney({ minor, currency }: Money): string {
  const digits = minorDigits(currency)
  let format = formats.get(currency)
  if (!format) {
    format = new Intl.NumberFormat('en-GB', {
      style: 'currency',
      currency,
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
    })
    formats.set(currency, format)
  }
  // A common blank: what is shown can be searched for and typed.
  return format.format(minor / 10 ** digits).replace('\u00a0', ' ')
}

/** How a currency is written before its amounts: `€`, `US$`; its code where it has no sign of its own. */
export const currencySign = (currency: string): string => formatMoney(money(0, currency)).replace(/[\d.,\s]/g, '')

/** `1204.10`: the amount alone, as parseAmount reads it back, with the currency's own digits. */
export function plainAmount({ minor, currency }: Money): string {
  const digits = minorDigits(currency)
  const text = String(Math.abs(minor)).padStart(digits + 1, '0')
  return `${minor < 0 ? '-' : ''}${text.slice(0, text.length - digits)}${digits === 0 ? '' : `.${text.slice(-digits)}`}`
}
