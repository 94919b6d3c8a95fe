import { z } from 'zod'
import { showLedger } from '@/usecases/ledger/showLedger'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/ledger',
  z.object({ from: z.iso.date().optional(), until: z.iso.date().optional() }),
  (gharry, range) => showLedger(gharry, range),
)
