import { z } from 'zod'
import { pinDecision, releasePin } from '@/usecases/pinDecision'
import { changing } from '../../../../answer'

export const POST = changing(z.object({ decision: z.string(), value: z.unknown() }), (gharry, { decision, value }, { id }) => pinDecision(gharry, Number(id), decision, value))
export const DELETE = changing(z.object({ decision: z.string() }), (gharry, { decision }, { id }) => releasePin(gharry, Number(id), decision))
