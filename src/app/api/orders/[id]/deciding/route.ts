import { z } from 'zod'
import { showDeciding } from '@/usecases/showDeciding'
import { reading } from '../../../../answer'
import { idIn } from '../../../../body'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showDeciding(gharry, idIn(id)))
