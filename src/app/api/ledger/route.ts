import { z } from 'zod'
import { showLedger } from '@/usecases/showLine'
import { reading } from '../../answer'

export const GET = reading(
  z.object({ from: z.iso.date().optional(), until: z.iso.date().optional() }),
  (gharry, range) => showLedger(gharry, range),
)
