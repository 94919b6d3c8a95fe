import { z } from 'zod'
import { sellerSchema } from '@/core/world'
import { saveSeller } from '@/usecases/setup/seller'
import { changing } from '@/app/answer'

const settings = z.object({ seller: sellerSchema, home: z.string(), micro: z.record(z.string(), z.number()) })

export const PUT = changing('PUT /api/setup/seller', z.object({ before: settings, after: settings }), (gharry, body) =>
  saveSeller(gharry, body.before, body.after),
)
