import { z } from 'zod'
import { takeApart } from '@/usecases/desk/combineOrders'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing('POST /api/desk/orders/:id/apart', z.object({}), (gharry, _body, { id }) =>
  takeApart(gharry, idIn(id)),
)
