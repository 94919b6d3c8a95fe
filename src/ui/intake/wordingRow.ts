import { home } from '../kit/locale'
import type { Speed } from '@/core/rating'
import type { WordingRow } from '@/core/world'
import { plainWeight } from '@/core/units'
import { countryCode } from '@/core/order'
import { asTyped, typedAmount, typedWeight } from '../kit/read'

/** A row of a wording table as it is typed. */
export interface RowForm {
  readonly wording: string
  readonly countries: string
  readonly weight: string
  readonly value: string
  readonly speed: Speed | ''
  /** A way to choose, or `:` and a service. */
  readonly pick: string
  readonly preset: string
}

export const emptyRow: RowForm = { wording: '', countries: '', weight: '', value: '', speed: '', pick: '', preset: '' }

const endless = 1_000_000_000

export function rowForm({ wording, countries, weight, value, gives }: WordingRow): RowForm {
  const band = (ends: readonly [number, number] | undefined, write: (n: number) => string): string => {
    if (!ends) return ''
    if (ends[1] >= endless) return `from ${write(ends[0])}`
    return ends[0] === 0 ? `to ${write(ends[1])}` : `${write(ends[0])} – ${write(ends[1])}`
  }
  return {
    wording,
    countries: countries?.join(' ') ?? '',
    weight: band(weight, (grams) => asTyped(plainWeight(grams))),
    value: band(value, (n) => (n / 100).toFixed(2)),
    speed: gives.speed ?? '',
    pick: gives.pick?.by === 'service' ? `:${gives.pick.service}` : (gives.pick?.by ?? ''),
    preset: gives.preset ?? '',
  }
}

/** A row in one line, for people. */
export const rowLine = ({ wording, countries, weight, value, speed, pick, preset }: RowForm): string =>
  `${[wording, countries, weight, value].filter(Boolean).join(', ')} → ${[speed, pick.replace(/^:/, ''), preset].filter(Boolean).join(', ')}`

/** Reads a row; a sentence when something in it makes no sense. */
export function readRow(form: RowForm): WordingRow | string {
  const countries = form.countries
    .toUpperCase()
    .split(/[\s,;]+/)
    .filter(Boolean)
  if (form.wording.trim() === '') return 'The row has no wording: write what the checkout says.'
  const odd = countries.find((code) => !/^[A-Z]{2}$/.test(code) || countryCode(code) !== code)
  if (odd) return `"${odd}" is no country: write codes of two letters such as BE NL.`
  const weight = readBand(form.weight, (text) => typedWeight(text))
  if (weight === null) return `"${form.weight}" is no weight band: write to 2 kg, from 5 kg, or 2 kg – 5 kg.`
  const value = readBand(form.value, (text) => typedAmount(text, home()))
  if (value === null) return `"${form.value}" is no value band: write to 50, from 100, or 50 – 100.`
  if (!form.speed && !form.pick && !form.preset) return 'The row means nothing: choose a speed, a service or a package.'
  return {
    wording: form.wording.trim(),
    ...(countries.length > 0 ? { countries } : {}),
    ...(weight ? { weight } : {}),
    ...(value ? { value } : {}),
    gives: {
      ...(form.speed ? { speed: form.speed } : {}),
      ...(form.preset ? { preset: form.preset } : {}),
      ...(form.pick
        ? {
            pick: form.pick.startsWith(':')
              ? { by: 'service' as const, service: form.pick.slice(1) }
              : { by: form.pick as 'cheapest' },
          }
        : {}),
    },
  }
}

/** `to 2 kg`, `from 5 kg`, `2 kg – 5 kg`; undefined when empty, null when it cannot be read. */
function readBand<N extends number>(
  text: string,
  read: (text: string) => N | null,
): readonly [N, N] | undefined | null {
  const plain = text.trim()
  if (plain === '') return undefined
  const open = /^(to|up to|from|above)\s(\S.{0,60})$/i.exec(plain)
  if (open) {
    const end = read(open[2]!)
    if (end === null || end < 0) return null
    return /to$/i.test(open[1]!) ? [0 as N, end] : [end, endless as N]
  }
  const [low, high, more] = plain.split(/–|-| to |\.\./i).map((end) => end.trim())
  const ends = [low, high].map((end) => (end === undefined ? null : read(end)))
  return more !== undefined || ends[0] === null || ends[1] === null || ends[0]! > ends[1]! || ends[0]! < 0
    ? null
    : [ends[0]!, ends[1]!]
}
