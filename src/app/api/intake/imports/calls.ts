import { z } from 'zod'
import { dateOrders } from '@/adapters'
import { fileFieldIds, requestFileImport } from '@/usecases/intake/importFile'
import { changing } from '@/app/answer'

const body = z.object({
  channel: z.string(),
  file: z.string(),
  fileName: z.string().max(300),
  mapping: z
    .partialRecord(z.enum(fileFieldIds), z.string())
    .and(z.object({ decimal: z.enum(['.', ',']).optional(), dates: z.enum(dateOrders).optional() })),
})
export const POST = changing('POST /api/intake/imports', body, (gharry, request) => requestFileImport(gharry, request))
