import { weekday, type Day, type LocalTime } from './day'

/**
 * The day on which a parcel leaves: today when the order is ready before the cut-off on a collection day, else the
 * next collection day. `collects` holds ISO weekdays (1 Monday … 7 Sunday); with none, null.
 */
export function shipDay(ready: LocalTime, cutOffMinute: number, collects: readonly number[]): Day | null {
  const first = ready.minuteOfDay < cutOffMinute ? ready.day : ready.day + 1
  return nextDay(first, collects)
}

/**
 * The day of arrival after `days` working days in transit, counted in days on which the carrier delivers.
 * Null when it delivers on no day.
 */
export function arrivalDay(leaves: Day, days: number, delivers: readonly number[]): Day | null {
  let day: Day | null = leaves
  for (let done = 0; done < days && day !== null; done++) day = nextDay(day + 1, delivers)
  return day
}

function nextDay(from: Day, weekdays: readonly number[]): Day | null {
  for (let day = from; day < from + 7; day++) if (weekdays.includes(weekday(day))) return day
  return null
}
