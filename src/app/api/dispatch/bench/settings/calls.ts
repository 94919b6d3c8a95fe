import { z } from 'zod'
import { saveBench } from '@/usecases/dispatch/bench/benchPrinter'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/bench/settings',
  z.strictObject({
    bench: z.string().trim().min(1).max(60),
    settings: z.strictObject({
      printer: z.enum(['none', 'raw', 'ipp']),
      address: z.string().max(300),
      prints: z.enum(['opened', 'checked', 'asked']),
      scale: z.string().max(300),
    }),
  }),
  (gharry, body) => saveBench(gharry, body),
)
