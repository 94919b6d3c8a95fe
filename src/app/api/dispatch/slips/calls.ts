import { z } from 'zod'
import { removeSlip, saveSlip, showSlips } from '@/usecases/dispatch/slips'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/dispatch/slips', z.object({}), (gharry) => showSlips(gharry))
export const PUT = changing(
  'PUT /api/dispatch/slips',
  z.object({ slip: z.unknown(), version: z.int() }),
  (gharry, { slip, version }) => saveSlip(gharry, slip, version),
)
export const DELETE = changing(
  'DELETE /api/dispatch/slips',
  z.object({ id: z.string(), version: z.int() }),
  (gharry, { id, version }) => removeSlip(gharry, id, version),
)
