import { localTime, minuteOf, readBoundary, weekday } from '@/core/calendar'
import type { Case } from './case'
import type { Span, Test } from './rulebook'

export const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const

type Local = ReturnType<typeof localTime>

/**
 * A test on a moment: given the moment (milliseconds, undefined when missing), its wall clock, and now. `before` and
 * `after` take a day (or a moment; one without a zone is told by the location's clocks); `before` ends where the day
 * begins, `after` begins where it ends.
 */
export type MomentTest = (at: number | undefined, local: () => Local, now: number) => boolean

/** A test on a moment of a case, in the location's time zone. */
export function timeTest(test: Test, read: (c: Case) => number | undefined): (c: Case) => boolean {
  const passes = momentTest(test)
  return (c) => {
    const at = read(c)
    return passes(at, () => localTime(at!, c.zone), c.now)
  }
}

/** A test of times made ready: for a moment, now and the zone, whether it holds. */
export function momentTest(test: Test): MomentTest {
  if (test.op === 'is missing') return (at) => at === undefined
  if (test.op === 'is known') return (at) => at !== undefined
  const passes = known(test)
  return (at, local, now) => at !== undefined && passes(at, local, now)
}

type Known = (at: number, local: () => Local, now: number) => boolean
const never: Known = () => false

function known(test: Test): Known {
  const { value } = test
  switch (test.op) {
    case 'before':
    case 'after':
      return typeof value === 'string' ? sideOf(value, test.op) : never
    case 'within the last': {
      const span = spanMs(value)
      return span === null ? never : (at, _local, now) => at <= now && at >= now - span
    }
    case 'within the next': {
      const span = spanMs(value)
      return span === null ? never : (at, _local, now) => at >= now && at <= now + span
    }
    case 'weekday is': {
      const wanted = new Set(
        (Array.isArray(value) ? value : []).map(
          (name) => weekdays.findIndex((day) => day.toLowerCase() === String(name).toLowerCase()) + 1,
        ),
      )
      return (_at, local) => wanted.has(weekday(local().day))
    }
    case 'time of day between': {
      const [from, until] = Array.isArray(value) ? value.map((clock) => minuteOf(String(clock))) : []
      if (from === null || from === undefined || until === null || until === undefined) return never
      // From 22:00 to 06:00 goes over midnight.
      return (_at, local) => {
        const minute = local().minuteOfDay
        return from <= until ? minute >= from && minute <= until : minute >= from || minute <= until
      }
    }
    default:
      return never
  }
}

function sideOf(text: string, op: 'before' | 'after'): Known {
  const boundary = readBoundary(text)
  if (!boundary) return never
  if ('instant' in boundary) return op === 'before' ? (at) => at < boundary.instant : (at) => at > boundary.instant
  if ('day' in boundary)
    return op === 'before' ? (_at, local) => local().day < boundary.day : (_at, local) => local().day > boundary.day
  const minutes = ({ day, minuteOfDay }: Local): number => day * 1440 + minuteOfDay
  return op === 'before'
    ? (_at, local) => minutes(local()) < boundary.wall
    : (_at, local) => minutes(local()) > boundary.wall
}

/** A span in milliseconds; null when it is none. */
export function spanMs(value: unknown): number | null {
  if (typeof value !== 'object' || value === null) return null
  const span = value as Partial<{ hours: number; days: number }>
  const hours = span.hours ?? (span.days === undefined ? NaN : span.days * 24)
  return Number.isFinite(hours) && hours > 0 ? hours * 3_600_000 : null
}

/** A span of hours or days in words. */
export const spanPhrase = (span: Span): string =>
  'hours' in span
    ? `${span.hours} ${span.hours === 1 ? 'hour' : 'hours'}`
    : `${span.days} ${span.days === 1 ? 'day' : 'days'}`
