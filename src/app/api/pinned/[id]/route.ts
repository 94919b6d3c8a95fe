import { z } from 'zod'
import { repinExample, unpinExample } from '@/usecases/pinnedOrders'
import { changing } from '../../../answer'
import { idIn } from '../../../body'

export const POST = changing(
  z.object({ note: z.string().trim().min(1, 'say why the new outcome is right').max(500) }),
  (gharry, { note }, { id }) => repinExample(gharry, idIn(id), note),
)
export const DELETE = changing(z.object({}), (gharry, _body, { id }) => unpinExample(gharry, idIn(id)))
