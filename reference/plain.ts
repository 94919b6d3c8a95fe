/*
 * Plain readings of what docs/rules.md and docs/tariffs.md say, for `npm run reference`: nothing here is shared with
 * the engine. Texts, money, days and prices are worked out a second time, in the slowest and plainest way there is.
 */

/** Text as rules compare it: NFKC, no outer blanks, runs of blanks as one, lower case, a final sigma as a sigma. */
export const plain = (text: string): string =>
  text
    .normalize('NFKC')
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\u200b\u2028\u2029\ufeff]/g, '')
    .trim()
    .split(/\s+/u)
    .join(' ')
    .toLowerCase()
    .split('ς')
    .join('σ')

const digits: Readonly<Record<string, number>> = { JPY: 0, KRW: 0, ISK: 0, CLP: 0, KWD: 3, TND: 3 }
export const digitsOf = (currency: string): number => digits[currency] ?? 2

export interface Amount {
  readonly minor: number
  readonly currency: string
}
export interface Exchange {
  readonly home: string
  readonly micro: Readonly<Record<string, number>>
}

/** An amount in the home currency, half up, by fractions of whole numbers; null without a rate. */
export function atHome({ minor, currency }: Amount, { home, micro }: Exchange): number | null {
  if (currency === home) return minor
  const rate = micro[currency]
  if (rate === undefined) return null
  const over = 1_000_000n * 10n ** BigInt(digitsOf(currency))
  const value = BigInt(minor) * BigInt(rate) * 10n ** BigInt(digitsOf(home))
  const doubled = value * 2n + over
  return Number(doubled >= 0n ? doubled / (over * 2n) : -((-doubled + over * 2n - 1n) / (over * 2n)))
}

const clocks = new Map<string, Intl.DateTimeFormat>()

/** What the clocks of a zone show at a moment, as `2026-11-25` and `14:30`, and the English name of the weekday. */
export function shown(
  moment: number,
  zone: string,
): { readonly day: string; readonly clock: string; readonly weekday: string } {
  let format = clocks.get(zone)
  if (!format)
    clocks.set(
      zone,
      (format = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        year: 'numeric',
        month: '2-digit',
        day: '2-digit',
        hour: '2-digit',
        minute: '2-digit',
        weekday: 'long',
        hourCycle: 'h23',
      })),
    )
  const part = Object.fromEntries(format.formatToParts(new Date(moment)).map(({ type, value }) => [type, value]))
  return {
    day: `${part.year!.padStart(4, '0')}-${part.month}-${part.day}`,
    clock: `${part.hour}:${part.minute}`,
    weekday: part.weekday!,
  }
}

/** The first moment at which a zone's calendar shows a day, found by halving: so clock changes need no thought. */
export function beginOf(day: string, zone: string): number {
  let [low, high] = [Date.parse(`${day}T00:00:00Z`) - 30 * 3_600_000, Date.parse(`${day}T00:00:00Z`) + 30 * 3_600_000]
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2)
    if (shown(middle, zone).day < day) low = middle
    else high = middle
  }
  return high
}

export const nextDay = (day: string): string =>
  new Date(Date.parse(`${day}T12:00:00Z`) + 86_400_000).toISOString().slice(0, 10)
/** Monday is 1. */
export const isoWeekday = (day: string): number => ((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7) + 1

/**
 * When it leaves and arrives: the first collection day from the hand-over on, then so many delivery days, holidays
 * left out.
 */
export function daysOfWay(given: {
  readonly day: string
  readonly clock: string
  readonly cutOff: string
  readonly collects: readonly number[]
  readonly delivers: readonly number[]
  readonly transit: number
  readonly fromHolidays: readonly string[]
  readonly toHolidays: readonly string[]
}): { readonly leaves: string; readonly arrives: string } | null {
  const { collects, delivers, fromHolidays, toHolidays } = given
  const next = (from: string, weekdays: readonly number[], holidays: readonly string[]): string | null => {
    let day = from
    for (let tries = 0; tries < 30; tries++, day = nextDay(day))
      if (weekdays.includes(isoWeekday(day)) && !holidays.includes(day)) return day
    return null
  }
  const leaves = next(given.clock < given.cutOff ? given.day : nextDay(given.day), collects, fromHolidays)
  if (leaves === null) return null
  let arrives: string | null = given.transit === 0 ? next(leaves, delivers, toHolidays) : leaves
  for (let done = 0; done < given.transit && arrives !== null; done++)
    arrives = next(nextDay(arrives), delivers, toHolidays)
  return arrives === null ? null : { leaves, arrives }
}
