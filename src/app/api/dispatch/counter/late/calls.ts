import { z } from 'zod'
import { settleLate } from '@/usecases/dispatch/counter/handOut'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/counter/late',
  z.strictObject({ label: z.int().positive(), what: z.enum(['remind', 'keep', 'put back']) }),
  (gharry, body) => settleLate(gharry, body),
)
