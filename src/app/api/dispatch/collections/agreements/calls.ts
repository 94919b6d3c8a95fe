import { z } from 'zod'
import { saveAgreements } from '@/usecases/dispatch/collections/agreements'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/collections/agreements',
  z.strictObject({ version: z.int(), agreements: z.array(z.unknown()).max(1000) }),
  (gharry, body) => saveAgreements(gharry, body),
)
