import { z } from 'zod'
import { showRecipient } from '@/usecases/desk/typeOrder'
import { reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/desk/orders/:id/recipient', z.object({}), (gharry, _query, { id }) =>
  showRecipient(gharry, idIn(id)),
)
