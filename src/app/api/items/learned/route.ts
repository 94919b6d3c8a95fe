import { z } from 'zod'
import { takeLearned } from '@/usecases/items'
import { changing } from '../../../answer'

export const POST = changing(z.object({ sku: z.string(), version: z.int() }), (gharry, { sku, version }) =>
  takeLearned(gharry, sku, version),
)
