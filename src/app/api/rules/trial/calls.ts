import { z } from 'zod'
import { trialMaterial } from '@/usecases/rules/trialMaterial'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/rules/trial',
  z.object({
    days: z.coerce.number().int().min(1).max(90).default(30),
    most: z.coerce.number().int().min(1).max(20_000).default(4000),
  }),
  (gharry, { days, most }) => trialMaterial(gharry, days, most),
)
