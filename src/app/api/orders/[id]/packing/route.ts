import { z } from 'zod'
import { showPacking } from '@/usecases/showPacking'
import { reading } from '../../../../answer'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showPacking(gharry, Number(id)))
