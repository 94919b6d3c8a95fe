import { z } from 'zod'
import { topUp } from '@/usecases/money'
import { changing } from '../../../answer'

export const POST = changing(
  z.object({ carrier: z.string(), amount: z.int().max(100_000_000, 'is more than a million'), key: z.uuid() }),
  (gharry, { carrier, amount, key }) => topUp(gharry, carrier, amount, key),
)
