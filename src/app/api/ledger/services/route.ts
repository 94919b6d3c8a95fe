import { z } from 'zod'
import { offers } from '@/core/rating'
import { saveService, setDemand, showServices } from '@/usecases/ledger/services'
import { changing, reading } from '@/app/answer'

const demand = z.object({
  channel: z.string().min(1),
  offers: z.array(z.enum(offers)).optional(),
  byPromise: z.boolean().optional(),
})

export const GET = reading('GET /api/ledger/services', z.object({}), (gharry) => showServices(gharry))
export const PUT = changing(
  'PUT /api/ledger/services',
  z.union([
    z.object({ service: z.looseObject({ id: z.string() }), version: z.int() }),
    z.object({ demand, version: z.int() }),
  ]),
  (gharry, body) =>
    'demand' in body ? setDemand(gharry, body.demand, body.version) : saveService(gharry, body.service, body.version),
)
