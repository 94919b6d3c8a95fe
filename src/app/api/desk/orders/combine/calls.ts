import { z } from 'zod'
import { combineGroups } from '@/usecases/desk/combineOrders'
import { changing } from '@/app/answer'

const id = z.number().int().positive()

export const POST = changing(
  'POST /api/desk/orders/combine',
  z.object({ groups: z.array(z.array(id).min(1).max(99)).min(1).max(500) }),
  (gharry, { groups }) => combineGroups(gharry, groups),
)
