import { z } from 'zod'
import { requestVoid } from '@/usecases/voidLabel'
import { changing } from '../../../../answer'
import { idIn } from '../../../../body'

export const POST = changing(z.object({}), (gharry, _body, { id }) => requestVoid(gharry, idIn(id)))
