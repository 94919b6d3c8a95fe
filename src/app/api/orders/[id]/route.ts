import { z } from 'zod'
import { showOrder } from '@/usecases/showDesk'
import { reading } from '../../../answer'
import { idIn } from '../../../body'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showOrder(gharry, idIn(id)))
