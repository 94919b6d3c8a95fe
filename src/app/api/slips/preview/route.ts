import { z } from 'zod'
import { previewSlip } from '@/usecases/slips'
import { changing } from '../../../answer'

export const POST = changing(z.object({ slip: z.unknown(), number: z.string().max(100) }), (gharry, { slip, number }) =>
  previewSlip(gharry, slip, number),
)
