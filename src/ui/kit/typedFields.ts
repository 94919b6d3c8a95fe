import { home } from './locale'
import { z } from 'zod'
import { typedAmount, typedLength, typedWeight } from './read'

/*
 * Fields of forms that are read into a value of a unit. What makes no sense is said at the field, with an example of
 * what would.
 */

const typed = <T>(read: (text: string) => T | null, wrong: (text: string) => string, takes: (value: T) => boolean) =>
  z.string().transform((text, context): T => {
    const value = read(text)
    if (value !== null && takes(value)) return value
    context.addIssue({ code: 'custom', message: wrong(text.trim()) })
    return z.NEVER
  })

/** An empty field is `empty`; what is typed is read by `field`, which says what is wrong with it. */
export const orEmpty = <T, E>(field: z.ZodType<T, string>, empty: E) =>
  z.string().transform((text, context): T | E => {
    if (text.trim() === '') return empty
    const read = field.safeParse(text)
    if (read.success) return read.data
    for (const { message } of read.error.issues) context.addIssue({ code: 'custom', message })
    return z.NEVER
  })

/** A weight above 0, or with `least` 0 none at all. */
export const weightField = (example: string, unit = 'g', least = 1) =>
  typed(
    (text) => typedWeight(text, unit),
    (text) => `“${text}” is no weight such as ${example}.`,
    (grams) => grams >= least,
  )

/** A length above 0. */
export const lengthField = (example: string) =>
  typed(
    (text) => typedLength(text),
    (text) => `“${text}” is no length such as ${example}.`,
    (length) => length > 0,
  )

/** An amount of the home currency that is not below 0. */
export const amountField = (example = '500.00') =>
  typed(
    (text) => typedAmount(text, home()),
    (text) => `“${text}” is no amount such as ${example}.`,
    (minor) => minor >= 0,
  )

/** A whole number above 0. */
export const countField = (what: string) =>
  typed(
    (text) => (/^\s*\d{1,9}\s*$/.test(text) ? Number(text) : null),
    (text) => `“${text}” is no number of ${what}.`,
    (n) => n > 0,
  )

/** A time of day, 00:00 to 23:59. */
export const timeField = z
  .string()
  .trim()
  .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time such as 16:30.')
