import { z } from 'zod'
import { compareTrails } from '@/usecases/rules/runTrial'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/rules/trials/compare',
  z.object({ order: z.coerce.number().int(), trial: z.coerce.number().int().optional() }),
  (gharry, { order, trial }) => compareTrails(gharry, order, trial ?? null),
)
