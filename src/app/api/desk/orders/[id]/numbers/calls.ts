import { z } from 'zod'
import { recordOwnNumbers } from '@/usecases/tracking/ownNumbers'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

/** The numbers under which an order left without a label of ours. */
export const POST = changing(
  'POST /api/desk/orders/:id/numbers',
  z.object({ carrier: z.string().max(64), numbers: z.array(z.string().max(120)).min(1).max(50) }),
  (gharry, body, { id }) => recordOwnNumbers(gharry, idIn(id), body),
)
