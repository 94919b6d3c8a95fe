import { z } from 'zod'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/dispatch/plan',
  z.object({
    orders: z
      .array(z.int().positive())
      .min(1, 'choose at least one order')
      .max(5000, 'a batch takes 5,000 orders')
      .refine((ids) => new Set(ids).size === ids.length, 'names an order twice'),
  }),
  async (gharry, { orders }) => ({ ok: true, ...(await planBatch(gharry, orders)) }),
)
