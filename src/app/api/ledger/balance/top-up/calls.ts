import { z } from 'zod'
import { topUp } from '@/usecases/ledger/balances'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/ledger/balance/top-up',
  z.object({ carrier: z.string(), amount: z.int().max(100_000_000, 'is more than a million'), key: z.uuid() }),
  (gharry, { carrier, amount, key }) => topUp(gharry, carrier, amount, key),
)
