import { z } from 'zod'
import { showTariffPrices } from '@/usecases/ledger/tariffs'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/ledger/tariffs/prices',
  z.object({ service: z.string(), from: z.iso.date('is no date: write YYYY-MM-DD') }),
  (gharry, { service, from }) => showTariffPrices(gharry, service, from),
)
