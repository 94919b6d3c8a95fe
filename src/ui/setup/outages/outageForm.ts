import { z } from 'zod'
import type { OutageKind } from '@/core/world'

const moment = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'Choose a day and a time.')

/** An outage as it is typed, with times of the first location's clocks, read into its values. */
export const outageForm = z
  .object({
    /** What is switched off: its kind and identifier, with a blank between. */
    of: z.string().min(1, 'Choose what is switched off.'),
    from: z.union([z.literal(''), moment]),
    until: moment,
    note: z.string().trim().max(200, 'At most 200 characters.'),
  })
  .refine(({ from, until }) => from === '' || from < until, { path: ['until'], message: 'It ends before it begins.' })
export type OutageForm = z.input<typeof outageForm>
export type OutageValues = z.output<typeof outageForm>

export const outageName = (what: string, of: string): string => `${what} ${of}`

/** The thing that is named, and the rest. */
export function outageOf(text: string): { readonly what: OutageKind; readonly of: string } {
  const at = text.indexOf(' ')
  return { what: text.slice(0, at) as OutageKind, of: text.slice(at + 1) }
}
