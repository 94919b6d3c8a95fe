import { z } from 'zod'
import { numbersOf } from '@/usecases/desk/showDesk'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/desk/numbers',
  z.object({ orders: z.array(z.number().int()).max(5000) }),
  (gharry, { orders }) => numbersOf(gharry, orders),
)
