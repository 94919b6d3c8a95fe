import { formatMoney, money } from '@/core/units'

/** Home-currency minor units as people read them; a dash when unknown. */
export const euros = (minor: number | null | undefined): string =>
  minor === null || minor === undefined ? '–' : formatMoney(money(minor, 'EUR'))

/** The amount alone, for columns whose header names the currency. */
export const amount = (minor: number | null | undefined): string =>
  minor === null || minor === undefined
    ? '–'
    : (minor / 100).toLocaleString('en', { minimumFractionDigits: 2, maximumFractionDigits: 2 })

/** The colour of an amount that is paid: more is a loss, less is a gain. */
export function toneOfCost(minor: number): string {
  if (minor > 0) return 'text-lost'
  return minor < 0 ? 'text-done' : ''
}

/** Plus or minus before an amount; nothing before zero. */
export function signOf(minor: number): string {
  if (minor > 0) return '+'
  return minor < 0 ? '−' : ''
}

export const count = (n: number): string => n.toLocaleString('en')

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** `25 Nov` from a day or an instant. */
export const shortDay = (text: string | null | undefined): string =>
  text ? `${Number(text.slice(8, 10))} ${months[Number(text.slice(5, 7)) - 1] ?? ''}` : '–'

/** `25 Nov 14:05`, UTC as the books keep it. */
export const shortTime = (text: string | null | undefined): string =>
  text ? `${shortDay(text)} ${text.slice(11, 16)}` : '–'
