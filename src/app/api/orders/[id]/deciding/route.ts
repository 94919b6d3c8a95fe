import { z } from 'zod'
import { showDeciding } from '@/usecases/showDeciding'
import { reading } from '../../../../answer'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showDeciding(gharry, Number(id)))
