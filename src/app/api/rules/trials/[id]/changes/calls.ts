import { z } from 'zod'
import { showTrialChanges } from '@/usecases/rules/runTrial'
import { reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading(
  'GET /api/rules/trials/:id/changes',
  z.object({
    skip: z.coerce.number().int().min(0).default(0),
    most: z.coerce.number().int().min(1).max(1000).default(400),
  }),
  (gharry, { skip, most }, { id }) => showTrialChanges(gharry, idIn(id), skip, most),
)
