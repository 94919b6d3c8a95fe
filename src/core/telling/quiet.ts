import { DateTime } from 'luxon'

/** Hours (`HH:MM`, of the customer) in which nobody is written to; from equal to until is none. */
export interface QuietHours {
  readonly from: string
  readonly until: string
}

const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5))

/**
 * The first moment (ISO 8601, UTC), `at` or later, that is not within quiet hours in a time zone (IANA name; an unknown
 * one is UTC).
 */
export function afterQuiet(at: string, zone: string, { from, until }: QuietHours): string {
  const local = DateTime.fromISO(at, { zone })
  const here = local.isValid ? local : DateTime.fromISO(at, { zone: 'utc' })
  const [begins, ends] = [minutesOf(from), minutesOf(until)]
  const isQuiet = ({ hour, minute }: DateTime): boolean => {
    const now = hour * 60 + minute
    return begins <= ends ? now >= begins && now < ends : now >= begins || now < ends
  }
  if (!isQuiet(here)) return at
  const endOn = (day: DateTime): DateTime =>
    day.set({ hour: Math.floor(ends / 60), minute: ends % 60, second: 0, millisecond: 0 })
  const today = endOn(here)
  // Where the clocks are set forward the end may not exist: what comes next is taken, unless quiet hours have begun
  // again by then.
  return (today <= here || isQuiet(today) ? endOn(here.plus({ days: 1 })) : today).toUTC().toISO()!
}
