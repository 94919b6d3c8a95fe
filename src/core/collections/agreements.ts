import { z } from 'zod'
import { type Day, weekday } from '@/core/calendar'

/** A collection that comes again and again. */
export interface Agreement {
  readonly id: string
  readonly location: string
  readonly carrier: string
  /** ISO weekdays: 1 Monday … 7 Sunday. */
  readonly weekdays: readonly number[]
  /** `HH:MM` at the location. */
  readonly from: string
  readonly until: string
  readonly place: string
  readonly notes: string
  /** The driver comes unasked; otherwise it is booked for each day. */
  readonly unasked: boolean
}

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time such as 16:30')
/** The agreements of a seller, checked. */
export const agreementsSchema = z
  .array(
    z
      .strictObject({
        id: z.string().min(1).max(60),
        location: z.string().min(1, 'is missing').max(64),
        carrier: z.string().min(1, 'is missing').max(64),
        weekdays: z.array(z.int().min(1).max(7)).min(1, 'are missing: choose a day'),
        from: clock,
        until: clock,
        place: z.string().max(120),
        notes: z.string().max(300),
        unasked: z.boolean(),
      })
      .refine(({ from, until }) => from < until, { path: ['until'], message: 'is not after its beginning' }),
  )
  .max(100, 'are at most 100')

/** The days of a span (both included) on which an agreement falls; on `closed` ones nobody is there. */
export function daysOf(agreement: Agreement, from: Day, until: Day, closed: ReadonlySet<Day>): readonly Day[] {
  const days: Day[] = []
  for (let day = from; day <= until; day++)
    if (agreement.weekdays.includes(weekday(day)) && !closed.has(day)) days.push(day)
  return days
}
