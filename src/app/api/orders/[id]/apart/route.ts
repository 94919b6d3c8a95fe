import { z } from 'zod'
import { takeApart } from '@/usecases/combineOrders'
import { changing } from '../../../../answer'

export const POST = changing(z.object({}), (gharry, _body, { id }) => takeApart(gharry, Number(id)))
