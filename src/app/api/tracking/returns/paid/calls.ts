import { z } from 'zod'
import { paidByHand } from '@/usecases/tracking/returns/payBack'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/tracking/returns/paid',
  z.strictObject({ id: z.int().positive() }),
  (gharry, body) => paidByHand(gharry, body),
)
