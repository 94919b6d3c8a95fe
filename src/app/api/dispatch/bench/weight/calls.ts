import { z } from 'zod'
import { readScale } from '@/usecases/dispatch/bench/benchPrinter'
import { weighParcel } from '@/usecases/dispatch/bench/checkParcel'
import { changing } from '@/app/answer'

/** Asks the scale of the bench. */
export const POST = changing(
  'POST /api/dispatch/bench/weight',
  z.strictObject({ bench: z.string().trim().min(1).max(60) }),
  (gharry, { bench }) => readScale(gharry, bench),
)

export const PUT = changing(
  'PUT /api/dispatch/bench/weight',
  z.strictObject({ check: z.number().int(), grams: z.number(), why: z.string().max(300) }),
  (gharry, body) => weighParcel(gharry, body),
)
