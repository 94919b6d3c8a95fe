import { z } from 'zod'
import { showDeciding } from '@/usecases/desk/showDeciding'
import { reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/desk/orders/:id/deciding', z.object({}), (gharry, _query, { id }) =>
  showDeciding(gharry, idIn(id)),
)
