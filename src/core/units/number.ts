/** Which sign stands before the decimals; the other one, a blank or an apostrophe groups thousands. */
export type DecimalSign = '.' | ','

/** A number as it was written, digit by digit: nothing goes through floating point. */
export interface Written {
  readonly negative: boolean
  readonly whole: string
  readonly fraction: string
}

// No number that means anything here is longer.
const longest = 64

/**
 * Reads a number such as `1234.5`, `1,234.50`, `1.234,50`, `1 234,5` or `-12`. A single comma or point before exactly
 * three digits can be either (`1,234`): it is read by the `decimal` sign of the place it comes from, and without one it
 * is `ambiguous`; unless what stands before it cannot be a group (`0.500`, `1234.567`). Null when it is no number.
 */
export function readNumber(text: string, decimal?: DecimalSign): Written | 'ambiguous' | null {
  const plain = text.normalize('NFKC').trim().replace('−', '-')
  const match = plain.length > longest ? null : /^([+-]?) ?(\d[\d.,'’ ]*)$/.exec(plain)
  if (!match) return null
  const body = match[2]!
  const written = (whole: string, fraction = ''): Written | null => {
    const digits = ungrouped(whole)
    return digits !== null && /^\d*$/.test(fraction) ? { negative: match[1] === '-', whole: digits, fraction } : null
  }
  const last = Math.max(body.lastIndexOf('.'), body.lastIndexOf(','))
  if (last < 0) return written(body)
  const sign = body[last]!
  const before = body.slice(0, last)
  const after = body.slice(last + 1)
  if (after === '') return null
  // Two signs: the last one stands before the decimals. The same sign twice: it groups.
  if (before.includes(sign === '.' ? ',' : '.')) return before.includes(sign) ? null : written(before, after)
  if (before.includes(sign)) return written(body)
  if (after.length !== 3 || before.length > 3 || before.startsWith('0')) return written(before, after)
  if (decimal === undefined) return 'ambiguous'
  return decimal === sign ? written(before, after) : written(body)
}

/** Digits without what groups them, by three or as in India (`10,00,000`); null when it groups them otherwise. */
function ungrouped(whole: string): string | null {
  if (/^\d+$/.test(whole)) return whole
  const grouping = /[^\d]/.exec(whole)![0]
  const [first = '', ...rest] = whole.split(grouping)
  const thousands = rest[rest.length - 1] ?? ''
  const above = rest.slice(0, -1)
  const grouped = (digits: number): boolean =>
    first.length <= digits && above.every((group) => group.length === digits) && thousands.length === 3
  return /^\d*$/.test(first + rest.join('')) && (grouped(3) || grouped(2)) ? first + rest.join('') : null
}

/**
 * What is wrong with a text of digits whose sign before three digits could be either, as a sentence; null when nothing
 * is.
 */
export function ambiguity(text: string): string | null {
  const digits = /^[^\d+−-]{0,4}([+−-]?\d[\d.,'’ ]{0,60})/.exec(text.normalize('NFKC').trim())?.[1]?.trim() ?? ''
  if (readNumber(digits) !== 'ambiguous') return null
  const [a, b] = [digits.replace(/[.,]/, ''), digits.replace(/[.,]/, '.')]
  return `"${text.trim().slice(0, 40)}" could be ${a} or ${b}0: write it without the ${digits.includes(',') ? 'comma' : 'point'}, or with another number of decimals.`
}

/** A written number as a plain one, for units whose conversion is no whole number anyway. */
export const toNumber = ({ negative, whole, fraction }: Written): number =>
  Number(`${negative ? '-' : ''}${whole}.${fraction || '0'}`)

/**
 * The number times a power of ten, if that is whole and safe; null when decimals are left, as nothing is rounded
 * unsaid.
 */
export function timesTen({ negative, whole, fraction }: Written, power: number): number | null {
  if (/[1-9]/.test(fraction.slice(power))) return null
  const value = Number(whole + fraction.slice(0, power).padEnd(power, '0'))
  if (Number.isSafeInteger(value)) return negative && value !== 0 ? -value : value
  return null
}
