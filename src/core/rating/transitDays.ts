import { arrivalDay, type Day, type LocalTime, shipDay } from '@/core/calendar'
import type { End, Lane, RateBook } from './compileRates'

const most = 4096
const none: ReadonlySet<Day> = new Set()

/** No collection or no delivery within reach. */
export const neverLeaves = -1

/**
 * The days on which a shipment leaves and arrives, packed into one number: `leaves` and `arrives` count from the day it
 * is ready (see `leavesAfter`, `arrivesAfter`). Answers are kept with the route, as most shipments of a day ask the
 * same. `neverLeaves` when the service has no collection or no delivery days.
 */
export function daysOf(
  book: RateBook,
  lane: Lane,
  location: string,
  from: string,
  to: string,
  end: End,
  ready: LocalTime,
): number {
  const collection = lane.collections.get(location)!
  const days = lane.routes.get(from)!.get(to)!.days
  const late = ready.minuteOfDay >= collection.cutOff ? 1 : 0
  const key = ((ready.day * 2 + late) * 64 + end.transit) * 64 + collection.index
  let found = days.get(key)
  if (found === undefined) {
    const leaves = shipDay(
      ready,
      collection.cutOff,
      collection.collects,
      collection.closed ?? book.holidays.get(from) ?? none,
    )
    const arrives =
      leaves === null ? null : arrivalDay(leaves, end.transit, lane.service.delivers, book.holidays.get(to) ?? none)
    found = leaves === null || arrives === null ? neverLeaves : (leaves - ready.day) * 4096 + (arrives - ready.day)
    if (days.size >= most) days.clear()
    days.set(key, found)
  }
  return found
}

/** Days from the day it is ready to the day it leaves, out of the number that `daysOf` packs both into. */
export const leavesAfter = (days: number): number => Math.floor(days / 4096)
/** Days from the day it is ready to its arrival, out of the same number. */
export const arrivesAfter = (days: number): number => days % 4096
