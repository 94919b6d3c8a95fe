import { z } from 'zod'

const text = z.string().max(200)
/** An order as its form sends it; what makes no sense of it is said field by field by the use case. */
export const typedOrder = z.object({
  key: z.string().min(8).max(60),
  number: z.string().trim().max(40),
  shipTo: z.object({
    name: text,
    company: text,
    lines: z.array(text).max(6),
    city: text,
    postcode: text,
    region: text,
    country: text,
  }),
  email: z.string().trim().max(254),
  phone: z.string().trim().max(40),
  items: z
    .array(
      z.object({
        what: text,
        quantity: z.number(),
        weight: z.number().nullable(),
        size: z.tuple([z.number(), z.number(), z.number()]).nullable(),
      }),
    )
    .max(200),
  value: z.int().min(0).max(1_000_000_000),
  wording: text,
  promisedBy: z.union([z.literal(''), z.iso.date()]),
})
