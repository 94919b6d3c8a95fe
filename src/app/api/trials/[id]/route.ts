import { z } from 'zod'
import { cancelTrial, showTrialRun } from '@/usecases/runTrial'
import { changing, reading } from '../../../answer'
import { idIn } from '../../../body'

export const GET = reading(z.object({}), async (gharry, _query, { id }) =>
  id === 'newest' ? { trial: await showTrialRun(gharry, id) } : showTrialRun(gharry, idIn(id)),
)
export const DELETE = changing(z.object({}), (gharry, _body, { id }) => cancelTrial(gharry, idIn(id)))
