import { z } from 'zod'
import { removeTariff, showTariffs } from '@/usecases/ledger/tariffs'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/ledger/tariffs', z.object({}), (gharry) => showTariffs(gharry))
export const DELETE = changing(
  'DELETE /api/ledger/tariffs',
  z.object({ service: z.string(), from: z.string(), version: z.int() }),
  (gharry, { service, from, version }) => removeTariff(gharry, service, from, version),
)
