import { z } from 'zod'
import { dispatchBatch } from '@/usecases/dispatchLabels'
import { showBatch } from '@/usecases/showLine'
import { changing, reading } from '../../../../answer'
import { idIn } from '../../../../body'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showBatch(gharry, idIn(id)))
export const POST = changing(z.object({ dispatched: z.literal(true) }), (gharry, _body, { id }) =>
  dispatchBatch(gharry, idIn(id)),
)
