import { z } from 'zod'
import { pinDecision, releasePin } from '@/usecases/pinDecision'
import { changing } from '../../../../answer'
import { idIn } from '../../../../body'

export const POST = changing(
  z.object({ decision: z.string(), value: z.unknown() }),
  (gharry, { decision, value }, { id }) => pinDecision(gharry, idIn(id), decision, value),
)
export const DELETE = changing(z.object({ decision: z.string() }), (gharry, { decision }, { id }) =>
  releasePin(gharry, idIn(id), decision),
)
