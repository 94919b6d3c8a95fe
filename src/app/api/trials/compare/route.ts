import { z } from 'zod'
import { compareTrails } from '@/usecases/runTrial'
import { reading } from '../../../answer'

export const GET = reading(
  z.object({ order: z.coerce.number().int(), trial: z.coerce.number().int().optional() }),
  (gharry, { order, trial }) => compareTrails(gharry, order, trial ?? null),
)
