import { z } from 'zod'
import { conditions } from '@/core/returns'
import { checkReturn, findReturn } from '@/usecases/tracking/returns/checkReturn'
import { changing } from '@/app/answer'

/** What was scanned, or typed. */
export const POST = changing(
  'POST /api/tracking/returns/arrivals',
  z.strictObject({ code: z.string().max(20_000) }),
  (gharry, body) => findReturn(gharry, body),
)

const found = z.strictObject({
  ...{ item: z.int().nonnegative(), quantity: z.int().positive(), condition: z.enum(conditions), kept: z.boolean() },
})

/** What was found in it. */
export const PUT = changing(
  'PUT /api/tracking/returns/arrivals',
  z.strictObject({
    id: z.int().positive(),
    found: z.array(found).max(10_000),
    amount: z.int().nonnegative().nullable(),
    withShipping: z.boolean(),
    note: z.string().max(500),
  }),
  (gharry, body) => checkReturn(gharry, body),
)
