import { gs1CheckDigit, s10CheckDigit } from '@/core/papers'
import { cleanTrackingNumber } from './link'

/** How the last digits of a number are worked out from the others. */
export const numberChecks = ['none', 'SSCC-18', 'S10', 'modulo 10', 'modulo 7'] as const
export type NumberCheck = (typeof numberChecks)[number]

/**
 * A form that a carrier’s numbers have: `#` is a digit, `@` a letter, all else stands for itself. `check` says which
 * check digit is in it: SSCC-18 (GS1 General Specifications 3.3.1, behind its `00`), S10 (UPU standard S10, eight
 * digits and one), modulo 10 (GS1 7.9, the last digit of all), modulo 7 (air waybills, IATA Resolution 600a: the last
 * seven digits and one).
 */
export interface NumberForm {
  readonly form: string
  readonly check: NumberCheck
}

/** A carrier with the forms of its numbers; without any, all numbers may be its own. */
export interface Numbering {
  readonly id: string
  readonly name: string
  readonly numbers?: readonly NumberForm[]
}

const patternOf = ({ form }: NumberForm): RegExp =>
  new RegExp(
    `^${[...form]
      .map((sign) => ({ '#': '[0-9]', '@': '[A-Z]' })[sign] ?? sign.replace(/[^A-Z0-9]/g, String.raw`\\$&`))
      .join('')}$`,
  )

/** Whether the check digit in a number of a form is right. */
function isChecked(number: string, check: NumberCheck): boolean {
  const digits = number.replace(/\D/g, '')
  const last = Number(digits.at(-1))
  switch (check) {
    case 'none':
      return true
    case 'SSCC-18':
      return gs1CheckDigit(digits.slice(-18, -1)) === last
    case 'S10':
      return s10CheckDigit(digits.slice(-9, -1)) === last
    case 'modulo 10':
      return gs1CheckDigit(digits.slice(0, -1)) === last
    case 'modulo 7':
      return Number(digits.slice(-8, -1)) % 7 === last
  }
}

type Fit = 'fits' | 'wrong check digit' | 'other form'

function fitOf(number: string, numbers: readonly NumberForm[]): Fit {
  const formed = numbers.filter((form) => patternOf(form).test(number))
  if (formed.length === 0) return 'other form'
  return formed.some(({ check }) => isChecked(number, check)) ? 'fits' : 'wrong check digit'
}

/**
 * The carriers whose form a number has, with its check digit; those that declare no form are none of them. Where the
 * check digit is right for none, those whose form it has all the same.
 */
export function carriersOfNumber(text: string, carriers: readonly Numbering[]): readonly Numbering[] {
  const number = cleanTrackingNumber(text)
  if (number === null) return []
  const fitting = (fit: Fit): readonly Numbering[] =>
    carriers.filter(({ numbers = [] }) => numbers.length > 0 && fitOf(number, numbers) === fit)
  const sure = fitting('fits')
  return sure.length > 0 ? sure : fitting('wrong check digit')
}

/** A number as it was read, or why it is none of the carrier’s, as a sentence. */
export type NumberRead =
  { readonly ok: true; readonly number: string } | { readonly ok: false; readonly sentence: string }

/**
 * Reads a tracking number as people type and paste it: blanks, hyphens and full-width signs are forgiven. It must have
 * a form of the carrier, and its check digit; where a carrier declares no form, the number must not plainly be another
 * one’s.
 */
export function readNumber(text: string, carrier: Numbering, carriers: readonly Numbering[] = []): NumberRead {
  const number = cleanTrackingNumber(text)
  if (number === null)
    return { ok: false, sentence: `“${text.slice(0, 60)}” is no tracking number: 6 to 40 letters and digits.` }
  const { numbers = [] } = carrier
  const fit = numbers.length === 0 ? 'fits' : fitOf(number, numbers)
  if (fit === 'wrong check digit')
    return { ok: false, sentence: `${number}: its check digit is wrong. A digit is mistyped, or two are swapped.` }
  const others = carriersOfNumber(number, carriers).filter(
    (other) => other.id !== carrier.id && fitOf(number, other.numbers ?? []) === 'fits',
  )
  if (fit === 'fits' && (numbers.length > 0 || others.length === 0)) return { ok: true, number }
  // People and fonts mix up O and 0, I and 1.
  const meant = number.replace(/O/g, '0').replace(/I/g, '1')
  if (meant !== number && fitOf(meant, numbers) === 'fits')
    return { ok: false, sentence: `${number} has letters where ${carrier.name} has digits: is it ${meant}?` }
  return {
    ok: false,
    sentence:
      others.length > 0
        ? `${number} is a number of ${others.map(({ name }) => name).join(' or ')}, not of ${carrier.name}.`
        : `${number} has no form of ${carrier.name}: ${numbers.map(({ form }) => form).join(', ')} (# is a digit, @ a letter).`,
  }
}
