import { z } from 'zod'
import { showPacking } from '@/usecases/showPacking'
import { reading } from '../../../../answer'
import { idIn } from '../../../../body'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showPacking(gharry, idIn(id)))
