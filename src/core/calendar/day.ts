import { DateTime } from 'luxon'

/** A calendar day as the number of days since 1970-01-01; no time of day, no zone. */
export type Day = number

const millisecondsPerDay = 86_400_000

/** `YYYY-MM-DD` to a day; NaN when the text is no date. */
export const dayOf = (text: string): Day => Math.floor(Date.parse(`${text.slice(0, 10)}T00:00:00Z`) / millisecondsPerDay)

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

const localTimes = new Map<string, LocalTime>()

/** The wall-clock day and minute in a time zone at an instant (milliseconds since 1970, UTC). Daylight saving included. */
export function localTime(instant: number, zone: string): LocalTime {
  const minute = Math.floor(instant / 60_000)
  const key = `${zone} ${minute}`
  let local = localTimes.get(key)
  if (!local) {
    const at = DateTime.fromMillis(minute * 60_000, { zone })
    local = { day: Math.floor(Date.UTC(at.year, at.month - 1, at.day) / millisecondsPerDay), minuteOfDay: at.hour * 60 + at.minute }
    if (localTimes.size > 20_000) localTimes.clear()
    localTimes.set(key, local)
  }
  return local
}

/** `HH:MM` to the minute of the day; null when it is no time. */
export function minuteOf(clock: string): number | null {
  const match = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(clock)
  return match ? Number(match[1]) * 60 + Number(match[2]) : null
}

/** The instant (milliseconds since 1970, UTC) at which the clocks of a zone show a minute of a day; in the hour that daylight saving leaves out, the one after it. */
export function instantAt(day: Day, minuteOfDay: number, zone: string): number {
  const [year, month, date] = dayText(day).split('-').map(Number)
  return DateTime.fromObject({ year, month, day: date, hour: Math.floor(minuteOfDay / 60), minute: minuteOfDay % 60 }, { zone }).toMillis()
}
