import { type Day, instantAt, localTime, shipDay } from '@/core/calendar'
import type { RateBook } from './compileRates'
import type { Location } from './tariff'

const none: ReadonlySet<Day> = new Set()

/**
 * The next moment (milliseconds since 1970, UTC) until which a service takes what is to be collected at a location on
 * that day. Null when the service does not collect there, or has no collection days.
 * @example nextCutOff(book, 'heron-road', ghent, Date.parse('2026-11-27T09:00Z')) // 16:00 in Ghent of that day
 */
export function nextCutOff(book: RateBook, service: string, location: Location, now: number): number | null {
  const collection = book.lanes.find((lane) => lane.service.id === service)?.collections.get(location.id)
  if (!collection) return null
  const { timeZone, country } = location
  const day = shipDay(
    localTime(now, timeZone),
    collection.cutOff,
    collection.collects,
    collection.closed ?? book.holidays.get(country) ?? none,
  )
  return day === null ? null : instantAt(day, collection.cutOff, timeZone)
}
