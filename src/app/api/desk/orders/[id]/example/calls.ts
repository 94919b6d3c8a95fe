import { z } from 'zod'
import { pinExample } from '@/usecases/rules/pinnedOrders'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing(
  'POST /api/desk/orders/:id/example',
  z.object({ name: z.string().trim().max(120) }),
  (gharry, { name }, { id }) => pinExample(gharry, idIn(id), name),
)
