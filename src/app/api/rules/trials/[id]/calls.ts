import { z } from 'zod'
import { cancelTrial, showTrialRun } from '@/usecases/rules/runTrial'
import { changing, reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/rules/trials/:id', z.object({}), (gharry, _query, { id }) =>
  showTrialRun(gharry, idIn(id)),
)
export const DELETE = changing('DELETE /api/rules/trials/:id', z.object({}), (gharry, _body, { id }) =>
  cancelTrial(gharry, idIn(id)),
)
