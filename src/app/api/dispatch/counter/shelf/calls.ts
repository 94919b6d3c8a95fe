import { z } from 'zod'
import { shelveOrder } from '@/usecases/dispatch/counter/shelve'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/counter/shelf',
  z.strictObject({ location: z.string().min(1).max(64), code: z.string().max(20_000), place: z.string().max(60) }),
  (gharry, body) => shelveOrder(gharry, body),
)
