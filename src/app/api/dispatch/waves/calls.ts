import { z } from 'zod'
import { saveWaves } from '@/usecases/dispatch/waves'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/waves',
  z.strictObject({ version: z.number().int(), rules: z.array(z.unknown()).max(1000) }),
  (gharry, body) => saveWaves(gharry, body),
)
