import { z } from 'zod'
import { putParcelAside } from '@/usecases/dispatch/bench/checkParcel'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/bench/aside',
  z.strictObject({ check: z.number().int(), why: z.string().max(300), short: z.boolean().optional() }),
  (gharry, body) => putParcelAside(gharry, body),
)
