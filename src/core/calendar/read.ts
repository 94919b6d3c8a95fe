import { DateTime } from 'luxon'
import { type Day, dayOf, dayText, instantAt } from './day'

const dayShape = /^\d{4}-\d{2}-\d{2}$/
const momentShape =
  /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)? ?(Z|[+-]\d{2}(?::?\d{2})?)?)?$/i

/** Whether a text is a day that there is: `2026-02-28`, but not `2026-02-30`. */
export function isDay(text: string): boolean {
  const day = dayShape.test(text) ? dayOf(text) : NaN
  return !Number.isNaN(day) && dayText(day) === text
}

/**
 * Reads a moment as ISO 8601 writes it: `2026-11-25`, `2026-11-25 14:30`, `2026-11-25T14:30:00+01:00`. One that names
 * no zone is told by the clocks of `zone`, a day by itself is its beginning there. Null for everything else: nothing is
 * guessed, and nothing hangs on the zone of the machine.
 * @returns milliseconds since 1970, UTC
 */
export function readMoment(text: string, zone: string): number | null {
  const match = momentShape.exec(text.trim())
  if (!match || !isDay(match[1]!)) return null
  const [, day, hour = '0', minute = '00', second = '00', fraction = '', offset = ''] = match
  if (Number(hour) > 23 || Number(minute) > 59 || Number(second) > 59) return null
  // Two changes of an order may be milliseconds apart.
  const wall = `${day}T${hour.padStart(2, '0')}:${minute}:${second}.${fraction.slice(0, 3).padEnd(3, '0')}`
  if (offset !== '') {
    // What names its zone needs no calendar of zones: this is asked once for every order that comes in.
    const moment = Date.parse(
      wall + (/^z$/i.test(offset) ? 'Z' : `${offset.slice(0, 3)}:${offset.slice(3).replace(':', '') || '00'}`),
    )
    return Number.isNaN(moment) ? null : moment
  }
  const read = DateTime.fromISO(wall, { zone, setZone: false })
  return read.isValid ? read.toMillis() : null
}

// Promised days and arrivals are few and come again and again.
const ends = new Map<string, number>()

/** The last millisecond of a day by the clocks of a zone: a promise for a day holds until midnight there. */
export function endOfDay(day: Day, zone: string): number {
  const key = `${day} ${zone}`
  let end = ends.get(key)
  if (end === undefined) {
    end = instantAt(day + 1, 0, zone) - 1
    if (ends.size > 20_000) ends.clear()
    ends.set(key, end)
  }
  return end
}

/**
 * The moment that a text names, if it names a zone; its wall clock (minutes since 1970) if it does not; null when it
 * is none.
 */
export function readBoundary(
  text: string,
): { readonly instant: number } | { readonly wall: number } | { readonly day: Day } | null {
  if (isDay(text)) return { day: dayOf(text) }
  const match = momentShape.exec(text.trim())
  const at = readMoment(text, 'UTC')
  if (!match || at === null) return null
  return match[6] ? { instant: at } : { wall: Math.floor(at / 60_000) }
}
