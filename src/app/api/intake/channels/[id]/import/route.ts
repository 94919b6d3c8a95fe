import { z } from 'zod'
import { requestImport } from '@/usecases/importOrders'
import { changing } from '../../../../../answer'

export const POST = changing(z.object({}), (gharry, _body, { id }) => requestImport(gharry, id!))
