import { z } from 'zod'
import { takeLearned } from '@/usecases/intake/items'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/intake/items/learned',
  z.object({ sku: z.string(), version: z.int() }),
  (gharry, { sku, version }) => takeLearned(gharry, sku, version),
)
