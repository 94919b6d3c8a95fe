import { z } from 'zod'

/** A connection as its form sends it; what its kind asks for is checked by the kind. */
export const connectionInput = z.object({
  role: z.enum(['channel', 'carrier', 'partner', 'messenger']),
  kind: z.string().max(60),
  name: z.string().max(80),
  carrier: z.string().max(60).optional(),
  settings: z.record(z.string().max(60), z.string().max(10_000)),
  on: z.boolean(),
  locations: z.array(z.string().max(64)).max(500).optional(),
  perSecond: z
    .number()
    .int()
    .min(1, 'At least one a second.')
    .max(1000, 'At most 1,000 a second.')
    .nullable()
    .optional(),
  version: z.int().optional(),
  channel: z
    .object({
      tellWhen: z.enum(['bought', 'dispatched']),
      everyMinutes: z.int().min(0).max(1440),
      fromDay: z.iso.date().nullable(),
      statuses: z.string().max(300),
      places: z.string().max(300),
      mailBuyers: z.boolean(),
      currency: z.string().regex(/^([A-Z]{3})?$/),
      language: z.string().regex(/^([a-z]{2}(-[A-Z]{2})?)?$/),
    })
    .partial()
    .optional(),
})
