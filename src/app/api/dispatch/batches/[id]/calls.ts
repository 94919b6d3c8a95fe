import { z } from 'zod'
import { dispatchBatch } from '@/usecases/dispatch/dispatchLabels'
import { showBatch } from '@/usecases/dispatch/showBatches'
import { changing, reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/dispatch/batches/:id', z.object({}), (gharry, _query, { id }) =>
  showBatch(gharry, idIn(id)),
)
export const POST = changing(
  'POST /api/dispatch/batches/:id',
  z.object({ dispatched: z.literal(true) }),
  (gharry, _body, { id }) => dispatchBatch(gharry, idIn(id)),
)
