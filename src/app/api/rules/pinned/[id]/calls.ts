import { z } from 'zod'
import { repinExample, unpinExample } from '@/usecases/rules/pinnedOrders'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing(
  'POST /api/rules/pinned/:id',
  z.object({ note: z.string().trim().min(1, 'say why the new outcome is right').max(500) }),
  (gharry, { note }, { id }) => repinExample(gharry, idIn(id), note),
)
export const DELETE = changing('DELETE /api/rules/pinned/:id', z.object({}), (gharry, _body, { id }) =>
  unpinExample(gharry, idIn(id)),
)
