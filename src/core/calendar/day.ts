import { DateTime } from 'luxon'

/** A calendar day as the number of days since 1970-01-01; no time of day, no zone. */
export type Day = number

const millisecondsPerDay = 86_400_000

/** `YYYY-MM-DD` to a day; NaN when the text is no date. */
export function dayOf(text: string): Day {
  let day = days.get(text)
  if (day === undefined) {
    day = Math.floor(Date.parse(`${text.slice(0, 10)}T00:00:00Z`) / millisecondsPerDay)
    if (days.size > 5000) days.clear()
    days.set(text, day)
  }
  return day
}

// Orders are about few days; their texts and numbers are remembered.
const days = new Map<string, Day>()
const texts = new Map<Day, string>()

/** A day as `YYYY-MM-DD`. */
export function dayText(day: Day): string {
  let text = texts.get(day)
  if (text === undefined) {
    text = new Date(day * millisecondsPerDay).toISOString().slice(0, 10)
    if (texts.size > 5000) texts.clear()
    texts.set(day, text)
  }
  return text
}

/** ISO 8601 weekday: 1 Monday … 7 Sunday (1970-01-01 was a Thursday). */
export const weekday = (day: Day): number => ((((day + 3) % 7) + 7) % 7) + 1

export interface LocalTime {
  readonly day: Day
  readonly minuteOfDay: number
}

// Clocks are put forward and back at whole quarters of an hour, so the offset of a quarter holds for all of it.
const millisecondsPerQuarter = 900_000
const offsets = new Map<string, Map<number, number>>()

/** Minutes by which the clocks of a zone are ahead of UTC at an instant. */
function offsetAt(instant: number, zone: string): number {
  let known = offsets.get(zone)
  if (!known) offsets.set(zone, (known = new Map<number, number>()))
  const quarter = Math.floor(instant / millisecondsPerQuarter)
  let offset = known.get(quarter)
  if (offset === undefined) {
    offset = DateTime.fromMillis(quarter * millisecondsPerQuarter, { zone }).offset
    if (known.size > 50_000) known.clear()
    known.set(quarter, offset)
  }
  return offset
}

/**
 * The wall-clock day and minute in a time zone at an instant (milliseconds since 1970, UTC). Daylight saving included.
 */
export function localTime(instant: number, zone: string): LocalTime {
  const minutes = Math.floor(instant / 60_000 + offsetAt(instant, zone))
  const day = Math.floor(minutes / 1440)
  return { day, minuteOfDay: minutes - day * 1440 }
}

/** `HH:MM` to the minute of the day; null when it is no time. */
export function minuteOf(clock: string): number | null {
  const match = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(clock)
  return match ? Number(match[1]) * 60 + Number(match[2]) : null
}

/**
 * The instant (milliseconds since 1970, UTC) at which the clocks of a zone show a minute of a day; in the hour that
 * daylight saving leaves out, the one after it.
 */
export function instantAt(day: Day, minuteOfDay: number, zone: string): number {
  const [year, month, date] = dayText(day).split('-').map(Number)
  return DateTime.fromObject(
    { year, month, day: date, hour: Math.floor(minuteOfDay / 60), minute: minuteOfDay % 60 },
    { zone },
  ).toMillis()
}

/**
 * The number of a day's month, counted from January of the year 0: year × 12 + month − 1. By whole numbers alone
 * (the civil calendar from days, eras of 400 years beginning in March).
 */
export function monthOf(day: Day): number {
  const shifted = day + 719_468
  const era = Math.floor(shifted / 146_097)
  const dayOfEra = shifted - era * 146_097
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365,
  )
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100))
  const shiftedMonth = Math.floor((5 * dayOfYear + 2) / 153)
  const month = shiftedMonth < 10 ? shiftedMonth + 2 : shiftedMonth - 10
  return (yearOfEra + era * 400 + (month <= 1 ? 1 : 0)) * 12 + month
}
