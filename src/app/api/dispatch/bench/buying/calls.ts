import { z } from 'zod'
import { buyAtBench, offerAtBench } from '@/usecases/dispatch/bench/buyAtBench'
import { changing } from '@/app/answer'

const code = z.string().max(200)

/** What it would cost. */
export const PUT = changing('PUT /api/dispatch/bench/buying', z.strictObject({ code }), (gharry, body) =>
  offerAtBench(gharry, body.code),
)

export const POST = changing(
  'POST /api/dispatch/bench/buying',
  z.strictObject({ bench: z.string().trim().min(1).max(60), code, expected: z.number().int().min(0) }),
  (gharry, body) => buyAtBench(gharry, body),
)
