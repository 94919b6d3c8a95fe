import { z } from 'zod'
import { takeNumbers } from '@/usecases/tracking/manyNumbers'
import { changing } from '@/app/answer'

const text = z.string().trim().max(120)

/** Numbers of parcels that left without labels from here, many at once; `take` false only looks at them. */
export const POST = changing(
  'POST /api/tracking/numbers',
  z.object({
    lines: z.array(z.object({ order: text, number: text, carrier: text })).max(60_000),
    take: z.boolean(),
  }),
  (gharry, { lines, take }) => takeNumbers(gharry, lines, take),
  20_000_000,
)
