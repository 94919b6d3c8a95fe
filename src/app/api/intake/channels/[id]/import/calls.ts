import { z } from 'zod'
import { requestImport } from '@/usecases/intake/importOrders'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/intake/channels/:id/import', z.object({}), (gharry, _body, { id }) =>
  requestImport(gharry, id),
)
