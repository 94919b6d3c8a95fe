import { z } from 'zod'
import { removeSlip, saveSlip, showSlips } from '@/usecases/slips'
import { changing, reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showSlips(gharry))
export const PUT = changing(z.object({ slip: z.unknown(), version: z.int() }), (gharry, { slip, version }) =>
  saveSlip(gharry, slip, version),
)
export const DELETE = changing(z.object({ id: z.string(), version: z.int() }), (gharry, { id, version }) =>
  removeSlip(gharry, id, version),
)
