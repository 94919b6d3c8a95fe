import { z } from 'zod'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { showBatches } from '@/usecases/dispatch/showBatches'
import { changing, reading } from '@/app/answer'
import { skip } from '@/app/skip'

export const GET = reading('GET /api/dispatch/batches', z.object({ skip }), (gharry, query) =>
  showBatches(gharry, query.skip),
)
export const POST = changing(
  'POST /api/dispatch/batches',
  z.object({
    orders: z
      .array(z.int().positive())
      .min(1)
      .max(5000)
      .refine((ids) => new Set(ids).size === ids.length, 'names an order twice'),
    expected: z.int(),
    approval: z.string().max(300).default(''),
    wave: z
      .object({ name: z.string().max(120), leavesBy: z.iso.datetime().nullable() })
      .nullable()
      .default(null),
  }),
  (gharry, { orders, expected, approval, wave }) => buyBatch(gharry, orders, expected, approval, wave),
)
