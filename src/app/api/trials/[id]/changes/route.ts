import { z } from 'zod'
import { showTrialChanges } from '@/usecases/runTrial'
import { reading } from '../../../../answer'
import { idIn } from '../../../../body'

export const GET = reading(
  z.object({
    skip: z.coerce.number().int().min(0).default(0),
    most: z.coerce.number().int().min(1).max(1000).default(400),
  }),
  (gharry, { skip, most }, { id }) => showTrialChanges(gharry, idIn(id), skip, most),
)
