import { z } from 'zod'
import { removeTariff, showTariffs } from '@/usecases/tariffs'
import { changing, reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showTariffs(gharry))
export const DELETE = changing(
  z.object({ service: z.string(), from: z.string(), version: z.int() }),
  (gharry, { service, from, version }) => removeTariff(gharry, service, from, version),
)
