import { z } from 'zod'
import { printAtBench } from '@/usecases/dispatch/bench/benchPrinter'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/dispatch/bench/prints',
  z.strictObject({
    bench: z.string().trim().min(1).max(60),
    label: z.number().int(),
    key: z.string().min(8).max(80),
  }),
  (gharry, body) => printAtBench(gharry, body),
)
