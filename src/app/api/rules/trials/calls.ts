import { z } from 'zod'
import { startTrial } from '@/usecases/rules/runTrial'
import { changing } from '@/app/answer'

const day = z.iso.date('is no date: write YYYY-MM-DD')

export const POST = changing(
  'POST /api/rules/trials',
  z.object({
    from: day,
    until: day,
    channels: z.array(z.string()).max(50).default([]),
    everyNth: z.int().min(1).max(1000).default(1),
    asOf: z.union([z.literal(''), day]).default(''),
  }),
  (gharry, options) => startTrial(gharry, options),
)
