import { z } from 'zod'
import { pinExample } from '@/usecases/pinnedOrders'
import { changing } from '../../../../answer'
import { idIn } from '../../../../body'

export const POST = changing(z.object({ name: z.string().trim().max(120) }), (gharry, { name }, { id }) =>
  pinExample(gharry, idIn(id), name),
)
