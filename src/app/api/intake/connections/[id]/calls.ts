import { z } from 'zod'
import { removeConnection, saveConnection } from '@/usecases/intake/connections'
import { changing } from '@/app/answer'
import { connectionInput } from '../shape'

export const PUT = changing('PUT /api/intake/connections/:id', connectionInput, (gharry, input, { id }) =>
  saveConnection(gharry, id, input),
)
export const DELETE = changing(
  'DELETE /api/intake/connections/:id',
  z.object({ version: z.int() }),
  (gharry, { version }, { id }) => removeConnection(gharry, id, version),
)
