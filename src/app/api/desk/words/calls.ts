import { z } from 'zod'
import { closeCustomerWords } from '@/usecases/tracking/customerWords'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/desk/words',
  z.object({ id: z.int().positive(), answer: z.string().max(1000) }),
  (gharry, { id, answer }) => closeCustomerWords(gharry, id, answer),
)
