import { z } from 'zod'
import { offers } from '@/core/rating'
import { exploreRates } from '@/usecases/ledger/exploreRates'
import { changing } from '@/app/answer'

const side = z.int().min(1, 'must be at least 1 mm').max(20_000, 'is more than 20 m')
const exploration = z.object({
  location: z.string(),
  country: z.string(),
  postcode: z.string().max(20),
  parcels: z.int().min(1).max(99),
  weight: z.int().min(0).max(5_000_000),
  size: z.tuple([side, side, side]),
  residential: z.boolean(),
  postOfficeBox: z.boolean(),
  signature: z.boolean(),
  insured: z.int().min(0).max(100_000_000),
  needs: z.array(z.enum(offers)),
  dangerousGoods: z.array(z.string().max(20)),
  day: z.union([z.literal(''), z.iso.date()]),
  time: z.string().max(5),
})

export const POST = changing('POST /api/ledger/tariffs/quotes', exploration, (gharry, asked) =>
  exploreRates(gharry, asked),
)
