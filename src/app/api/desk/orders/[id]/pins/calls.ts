import { z } from 'zod'
import { pinDecision, releasePin } from '@/usecases/desk/pinDecision'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing(
  'POST /api/desk/orders/:id/pins',
  z.object({ decision: z.string(), value: z.unknown() }),
  (gharry, { decision, value }, { id }) => pinDecision(gharry, idIn(id), decision, value),
)
export const DELETE = changing(
  'DELETE /api/desk/orders/:id/pins',
  z.object({ decision: z.string() }),
  (gharry, { decision }, { id }) => releasePin(gharry, idIn(id), decision),
)
