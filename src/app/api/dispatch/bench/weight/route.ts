import { z } from 'zod'
import { weighParcel } from '@/usecases/dispatch/bench/checkParcel'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/bench/weight',
  z.strictObject({ check: z.number().int(), grams: z.number(), why: z.string().max(300) }),
  (gharry, body) => weighParcel(gharry, body),
)
