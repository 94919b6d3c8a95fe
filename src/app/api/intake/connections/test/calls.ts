import { z } from 'zod'
import { testConnection } from '@/usecases/intake/connections'
import { changing } from '@/app/answer'
import { connectionInput } from '../shape'

export const POST = changing(
  'POST /api/intake/connections/test',
  connectionInput.extend({ id: z.string().max(60).optional() }),
  (gharry, { id, ...input }) => testConnection(gharry, id ?? null, input),
)
