import { z } from 'zod'
import { cancelTrial, showTrialRun } from '@/usecases/runTrial'
import { changing, reading } from '../../../answer'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showTrialRun(gharry, id === 'newest' ? 'newest' : Number(id)))
export const DELETE = changing(z.object({}), (gharry, _body, { id }) => cancelTrial(gharry, Number(id)))
