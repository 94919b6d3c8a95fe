import { grams, type Grams, millimetres, type Millimetres, type Size } from './brands'
import { type DecimalSign, readNumber, timesTen, toNumber } from './number'

// Exact by definition: the international pound is 453.59237 g, the inch 25.4 mm (1959 yard and pound agreement).
export const gramsPer: Readonly<Record<string, number>> = {
  g: 1,
  kg: 1000,
  lb: 453.59237,
  lbs: 453.59237,
  oz: 28.349523125,
  t: 1_000_000,
}
export const millimetresPer: Readonly<Record<string, number>> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 }

/** The small step back keeps 0.1 kg from becoming 101 g by floating-point dust; and there is no nought below nought. */
const roundedUp = (value: number): number => Math.ceil(value - 1e-6) + 0

/** Weight to whole grams, rounded up, so that nothing is declared too light. Null for an unknown unit or no number. */
export function toGrams(value: number, unit: string): Grams | null {
  const per = gramsPer[unit.trim().toLowerCase()]
  return per === undefined || !Number.isFinite(value) ? null : grams(roundedUp(value * per))
}

/** Length to whole millimetres, rounded up. Null for an unknown unit or no number. */
export function toMillimetres(value: number, unit: string): Millimetres | null {
  const per = millimetresPer[unit.trim().toLowerCase()]
  return per === undefined || !Number.isFinite(value) ? null : millimetres(roundedUp(value * per))
}

const powers: Readonly<Record<string, number>> = { g: 0, kg: 3, t: 6, mm: 0, cm: 1, m: 3 }

/** Two units as one measure: `1 lb 4 oz`, `5 ft 3 in`, `5' 3"`; the greater before the smaller. */
const compound = /^(.{1,30}?)\s?(lb|lbs|ft|')\s?([\d.,]{1,20})\s?(oz|in|")?$/i
const signs: Readonly<Record<string, string>> = { "'": 'ft', '"': 'in' }
const pairs: Readonly<Record<string, string>> = { lb: 'oz', lbs: 'oz', ft: 'in' }

/** A measure of two units, rounded up as one; undefined when it is none of two. */
function parseCompound(text: string, decimal?: DecimalSign): { value: number; unit: string } | null | undefined {
  const found = compound.exec(text)
  if (!found) return undefined
  const unit = (signs[found[2]!] ?? found[2]!).toLowerCase()
  const smaller = pairs[unit]
  const named = found[4] === undefined ? smaller : (signs[found[4]] ?? found[4]).toLowerCase()
  const [whole, rest] = [found[1]!, found[3]!].map((part) => readNumber(part, decimal))
  if (named !== smaller || !whole || !rest || whole === 'ambiguous' || rest === 'ambiguous') return null
  const perWhole = unit === 'ft' ? 12 : 16
  // `1 lb 20 oz` is a slip of the fingers; so is `1.5 lb 4 oz`.
  if (rest.negative || toNumber(rest) >= perWhole || /[1-9]/.test(whole.fraction)) return null
  const sum = Math.abs(toNumber(whole)) * perWhole + toNumber(rest)
  return { value: whole.negative ? -sum : sum, unit: smaller! }
}

/**
 * A number with its unit to whole grams or millimetres. In metric units it must come to whole ones, as nothing is
 * rounded unsaid; pounds, ounces, inches and feet, which never do, are rounded up. Null for everything else.
 */
function parseMeasure(
  text: string,
  fallbackUnit: string,
  convert: (value: number, unit: string) => number | null,
  decimal?: DecimalSign,
): number | null {
  const plain = text.normalize('NFKC').trim()
  if (plain.length > 64) return null
  const two = parseCompound(plain, decimal)
  if (two !== undefined) return two && convert(two.value, two.unit)
  const letters = /[a-z]{1,12}$|['"]$/i.exec(plain)?.[0] ?? ''
  const written = readNumber(plain.slice(0, plain.length - letters.length), decimal)
  if (written === null || written === 'ambiguous') return null
  const unit = (signs[letters] ?? (letters || fallbackUnit)).toLowerCase()
  const known = convert(1, unit)
  if (known === null) return null
  const power = powers[unit]
  return power === undefined ? convert(toNumber(written), unit) : timesTen(written, power)
}

/**
 * Reads `2.5 kg`, `750g`, `1,2 kg`, `20 oz`, `1 lb 4 oz`; a bare number takes `fallbackUnit`. Null when it is no
 * weight, when it is no whole number of grams, and when it could mean two weights (`1,500 kg`, unless `decimal` says
 * which sign is before decimals).
 */
export function parseWeight(text: string, fallbackUnit = 'g', decimal?: DecimalSign): Grams | null {
  return parseMeasure(text, fallbackUnit, toGrams, decimal) as Grams | null
}

/** Reads `30 cm`, `300 mm`, `12in`, `5' 3"`; a bare number takes `fallbackUnit`. Null as `parseWeight` has it. */
export function parseLength(text: string, fallbackUnit = 'mm', decimal?: DecimalSign): Millimetres | null {
  return parseMeasure(text, fallbackUnit, toMillimetres, decimal) as Millimetres | null
}

/**
 * Reads `30 × 20 × 15 cm`, `12x9x4 in`: three sides above nothing; the unit behind the last holds for all that name
 * none. Null when they are not three, and as `parseLength` has it.
 */
export function parseSize(text: string, fallbackUnit = 'cm', decimal?: DecimalSign): Size | null {
  const sides = text.split(/[×x*]/i).map((side) => side.trim())
  const unit = /[a-z]{1,12}$|"$/i.exec(sides.at(-1) ?? '')?.[0] ?? fallbackUnit
  const lengths = sides.map((side) => parseLength(side, unit === '"' ? 'in' : unit, decimal))
  return lengths.length === 3 && lengths.every((length) => length !== null && length > 0)
    ? (lengths as unknown as Size)
    : null
}

/**
 * A weight for files and fields: `1234 g`, `1.23 kg`, `1000 kg`; without groups and thousandths, so that it can be
 * read in one way only.
 */
export const plainWeight = (weight: number): string =>
  Math.abs(weight) < 1000 || weight % 10 !== 0 ? `${weight} g` : `${decimals(weight, 3)} kg`

/** A length for files and fields: `8 mm`, `1234.5 cm`. */
export const plainLength = (length: number): string =>
  Math.abs(length) < 10 ? `${length} mm` : `${decimals(length, 1)} cm`

/** A whole number over a power of ten, without noughts at the end. */
function decimals(value: number, power: number): string {
  const text = String(Math.abs(value)).padStart(power + 1, '0')
  return `${value < 0 ? '-' : ''}${text.slice(0, -power)}${fractionOf(text.slice(-power))}`
}

/** Decimals with their point, without noughts at the end; nothing when there are none. */
function fractionOf(digits: string): string {
  let end = digits.length
  while (end > 0 && digits[end - 1] === '0') end--
  return end === 0 ? '' : `.${digits.slice(0, end)}`
}

/** `850 g` below a kilogram, `2.35 kg` from there on. */
export function formatWeight(weight: number): string {
  return Math.abs(weight) < 1000 ? `${weight} g` : `${grouped(weight / 1000, 3)} kg`
}

/** `8 mm` below a centimetre, else `42.5 cm`. */
export function formatLength(length: number): string {
  return Math.abs(length) < 10 ? `${length} mm` : `${grouped(length / 10, 1)} cm`
}

/**
 * At most `digits` decimals, thousands in groups; by hand, as Intl is too slow for reasons that are written for every
 * order.
 */
function grouped(value: number, digits: number): string {
  const [whole = '', fraction = ''] = Math.abs(value).toFixed(digits).split('.')
  let groups = whole.slice(-3)
  for (let end = whole.length - 3; end > 0; end -= 3) groups = `${whole.slice(Math.max(0, end - 3), end)},${groups}`
  return `${value < 0 ? '-' : ''}${groups}${fractionOf(fraction)}`
}
