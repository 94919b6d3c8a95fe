import { z } from 'zod'
import { reading } from '@/app/answer'
import { showTrialRun } from '@/usecases/rules/runTrial'

export const GET = reading('GET /api/rules/trials/newest', z.object({}), async (gharry) => ({
  trial: await showTrialRun(gharry, 'newest'),
}))
