import { z } from 'zod'
import { showMoves } from '@/usecases/dispatch/stock/showStock'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/dispatch/stock/moves',
  z.object({ location: z.string().max(64), sku: z.string().max(200) }),
  (gharry, { location, sku }) => showMoves(gharry, location, sku),
)
