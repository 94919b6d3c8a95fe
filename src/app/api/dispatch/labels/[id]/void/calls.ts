import { z } from 'zod'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing('POST /api/dispatch/labels/:id/void', z.object({}), (gharry, _body, { id }) =>
  requestVoid(gharry, idIn(id)),
)
