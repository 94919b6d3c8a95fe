import { z } from 'zod'
import { offers } from '@/core/rating'
import { setDemand } from '@/usecases/setup/demands'
import { changing } from '@/app/answer'

const demand = z.object({
  channel: z.string().min(1),
  offers: z.array(z.enum(offers)).optional(),
  byPromise: z.boolean().optional(),
  protected: z.boolean().optional(),
  carriers: z.array(z.string().min(1)).optional(),
})

export const PUT = changing('PUT /api/setup/demands', z.object({ demand }), (gharry, body) =>
  setDemand(gharry, body.demand),
)
