import { z } from 'zod'
import { previewSlip } from '@/usecases/dispatch/slips'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/dispatch/slips/preview',
  z.object({ slip: z.unknown(), number: z.string().max(100) }),
  (gharry, { slip, number }) => previewSlip(gharry, slip, number),
)
