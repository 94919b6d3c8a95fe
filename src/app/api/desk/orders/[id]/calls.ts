import { z } from 'zod'
import { showOrder } from '@/usecases/desk/showOrder'
import { reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/desk/orders/:id', z.object({}), (gharry, _query, { id }) =>
  showOrder(gharry, idIn(id)),
)
