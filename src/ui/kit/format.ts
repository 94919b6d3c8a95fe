import { minorDigits, type Money, money, parseLength, parseWeight } from '@/core/units'
import { home, locale, notation, units } from './locale'

/** An amount with its currency, as the reader writes it. */
export const moneyText = (amount: Money): string => notation().money(amount)

/** Home-currency minor units as people read them; a dash when unknown. */
export const homeMoney = (minor: number | null | undefined): string =>
  minor === null || minor === undefined ? '–' : moneyText(money(minor, home()))

/** The amount alone, for columns whose header names the currency. */
export const amount = (minor: number | null | undefined): string =>
  minor === null || minor === undefined
    ? '–'
    : notation().number(minor / 10 ** minorDigits(home()), minorDigits(home()))

/** Grams as the reader writes them: `850 g`, `2.35 kg`. */
export const weightText = (grams: number): string => notation().weight(grams)

/** Millimetres as the reader writes them: `42.5 cm`. */
export const lengthText = (millimetres: number): string => notation().length(millimetres)

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

export const count = (n: number): string => notation().number(n)

/** How large a file or disk is, to three figures. */
export function bytes(n: number): string {
  const step = n >= 1e9 ? ([1e9, 'GB'] as const) : ([1e6, 'MB'] as const)
  return `${notation().number(n / step[0], n / step[0] < 10 ? 1 : 0)} ${step[1]}`
}

/** A verb as so many do it: one *changes*, two *change*. */
export const does = (n: number, verb: string): string => (n === 1 ? `${verb}s` : verb)
/** `1 order`, `2,103 orders`. */
export const orderCount = (n: number): string => `${count(n)} ${n === 1 ? 'order' : 'orders'}`
/** `1 waiting order`, `437 waiting orders`. */
export const waitingOrders = (n: number): string => `${count(n)} waiting ${n === 1 ? 'order' : 'orders'}`

/** A share of 0 to 1 as per cent with one decimal. */
export const percent = (share: number): string => `${notation().number(share * 100, 1)} %`

const formats = new Map<string, Intl.DateTimeFormat>()
const partsOf = {
  day: { day: 'numeric', month: 'short' },
  date: { day: 'numeric', month: 'short', year: 'numeric' },
  time: { hour: '2-digit', minute: '2-digit' },
} as const

/** In the reader's way, at a moment of UTC as the books keep it. */
function dated(text: string, kind: keyof typeof partsOf): string {
  const moment = new Date(text)
  if (Number.isNaN(moment.getTime())) return text
  const key = `${kind} ${locale()}`
  let format = formats.get(key)
  if (!format) {
    format = new Intl.DateTimeFormat(locale(), { ...partsOf[kind], timeZone: 'UTC', numberingSystem: 'latn' })
    formats.set(key, format)
  }
  return format.format(moment)
}

/** `25 Nov` from a day or an instant. */
export const shortDay = (text: string | null | undefined): string => (text ? dated(text, 'day') : '–')

/** `25 Nov 2027`, for days that may be of another year. */
export const dayWithYear = (text: string): string => dated(text, 'date')

/** `25 Nov 14:05`, UTC as the books keep it. */
export const shortTime = (text: string | null | undefined): string =>
  text ? `${dated(text, 'day')} ${dated(text, 'time')}` : '–'

/**
 * Home-currency minor units as a field holds them: the digits of the currency, without its sign; empty when unknown.
 */
export const plainHome = (minor: number | undefined): string =>
  minor === undefined ? '' : notation().number(minor / 10 ** minorDigits(home()), minorDigits(home()))

const measure = /(?<![\w.,])(\d[\d,]*(?:\.\d+)?) (kg|g|cm|mm)\b/g

/**
 * A sentence of Gharry's own, which is kept in grams and metres, with its weights and lengths as the reader has them.
 */
export const inUnits = (sentence: string): string =>
  units() === 'metric'
    ? sentence
    : sentence.replace(measure, (text, _number: string, unit: string) => {
        const value = unit.endsWith('g') ? parseWeight(text) : parseLength(text)
        if (value === null) return text
        return unit.endsWith('g') ? weightText(value) : lengthText(value)
      })
