import { z } from 'zod'
import { importAll } from '@/usecases/intake/importOrders'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/intake/imports/all', z.object({}), (gharry) => importAll(gharry))
