import { z } from 'zod'
import { takeApart } from '@/usecases/combineOrders'
import { changing } from '../../../../answer'
import { idIn } from '../../../../body'

export const POST = changing(z.object({}), (gharry, _body, { id }) => takeApart(gharry, idIn(id)))
