import { z } from 'zod'
import { cancelTrial, showTrialRun } from '@/usecases/runTrial'
import { changing, reading } from '../../../answer'

export const GET = reading(z.object({}), async (gharry, _query, { id }) => (id === 'newest' ? { trial: await showTrialRun(gharry, id) } : showTrialRun(gharry, Number(id))))
export const DELETE = changing(z.object({}), (gharry, _body, { id }) => cancelTrial(gharry, Number(id)))
