import { z } from 'zod'
import { requestVoid } from '@/usecases/voidLabel'
import { changing } from '../../../../answer'

export const POST = changing(z.object({}), (gharry, _body, { id }) => requestVoid(gharry, Number(id)))
