import { z } from 'zod'
import { showOrder } from '@/usecases/showDesk'
import { reading } from '../../../answer'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showOrder(gharry, Number(id)))
