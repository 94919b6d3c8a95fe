import { type Day, type LocalTime, weekday } from './day'

const none: ReadonlySet<Day> = new Set()
// The longest run of days without work that is waited for; beyond it there is none.
const maxBreak = 30

/**
 * The day on which a parcel leaves: today when the order is ready before the cut-off on a collection day, else the
 * next collection day. `collects` holds ISO weekdays (1 Monday … 7 Sunday), `holidays` days without collection; null
 * when there is no collection within thirty days.
 */
export function shipDay(
  ready: LocalTime,
  cutOffMinute: number,
  collects: readonly number[],
  holidays: ReadonlySet<Day> = none,
): Day | null {
  const first = ready.minuteOfDay < cutOffMinute ? ready.day : ready.day + 1
  return nextDay(first, collects, holidays)
}

/**
 * The day of arrival after `days` working days in transit, counted in days on which the carrier delivers there: its
 * weekdays without the holidays of the destination. With no day in transit it arrives the day it leaves, or on the
 * first day of delivery after it. Null when it delivers on no day.
 */
export function arrivalDay(
  leaves: Day,
  days: number,
  delivers: readonly number[],
  holidays: ReadonlySet<Day> = none,
): Day | null {
  if (days === 0) return nextDay(leaves, delivers, holidays)
  let day: Day | null = leaves
  for (let done = 0; done < days && day !== null; done++) day = nextDay(day + 1, delivers, holidays)
  return day
}

function nextDay(from: Day, weekdays: readonly number[], holidays: ReadonlySet<Day>): Day | null {
  for (let day = from; day < from + maxBreak; day++)
    if (weekdays.includes(weekday(day)) && !holidays.has(day)) return day
  return null
}
