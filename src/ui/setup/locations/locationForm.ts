import { z } from 'zod'
import type { Location } from '@/core/rating'

/** A location as it is typed, read into its values. */
export const locationForm = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(60, 'At most 60 characters.'),
  country: z.string().min(1, 'Choose the country.'),
  timeZone: z.string().trim().min(1, 'Choose the time zone.'),
  company: z.string().trim().min(1, 'The sender’s name stands on labels.').max(200),
  lines: z
    .string()
    .transform((text) =>
      text
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean),
    )
    .refine((lines) => lines.length > 0, 'Enter street and number.')
    .refine((lines) => lines.length <= 4, 'At most four lines fit on a label.'),
  postcode: z.string().trim().max(20, 'At most 20 characters.'),
  city: z.string().trim().min(1, 'Enter the town.').max(100),
  phone: z.string().trim().max(40, 'At most 40 characters.'),
  partner: z.string(),
  checked: z.boolean(),
  weighed: z.boolean(),
  openDays: z.array(z.number()).min(1, 'On one day at least.'),
  closedOn: z.string().transform((text, context): string[] => {
    const days = text.split(/[\s,;]+/).filter(Boolean)
    const odd = days.find((day) => !/^\d{4}-\d{2}-\d{2}$/.test(day) || Number.isNaN(Date.parse(day)))
    if (odd === undefined) return [...new Set(days)].sort()
    context.addIssue({ code: 'custom', message: `“${odd}” is no day such as 2026-12-24.` })
    return z.NEVER
  }),
})
export type LocationForm = z.input<typeof locationForm>
export type LocationValues = z.output<typeof locationForm>

const everyDay = [1, 2, 3, 4, 5, 6, 7]

export const locationFormOf = ({
  name,
  country,
  timeZone,
  address,
  partner,
  checked,
  weighed,
  openDays,
  closedOn,
}: Location): LocationForm => ({
  ...{ name, country, timeZone },
  company: address.company,
  lines: address.lines.join('\n'),
  postcode: address.postcode,
  city: address.city,
  phone: address.phone,
  partner: partner ?? '',
  checked: checked ?? false,
  weighed: weighed ?? false,
  openDays: [...(openDays ?? everyDay)],
  closedOn: (closedOn ?? []).join('; '),
})

export function withLocationValues(
  location: Location,
  {
    name,
    country,
    timeZone,
    company,
    lines,
    postcode,
    city,
    phone,
    partner,
    checked,
    weighed,
    openDays,
    closedOn,
  }: LocationValues,
): Location {
  const { openDays: _open, closedOn: _closed, partner: _partner, checked: _check, weighed: _weigh, ...rest } = location
  return {
    ...rest,
    ...{ name, country, timeZone },
    address: { company, lines, postcode, city, phone },
    ...(partner === '' ? {} : { partner }),
    ...(checked ? { checked } : {}),
    ...(weighed ? { weighed } : {}),
    ...(openDays.length === everyDay.length ? {} : { openDays: [...openDays].sort() }),
    ...(closedOn.length === 0 ? {} : { closedOn }),
  }
}
