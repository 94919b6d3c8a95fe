import { z } from 'zod'
import { showPacking } from '@/usecases/desk/showPacking'
import { reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/desk/orders/:id/packing', z.object({}), (gharry, _query, { id }) =>
  showPacking(gharry, idIn(id)),
)
