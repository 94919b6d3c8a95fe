import { z } from 'zod'
import { countByHand, showStock } from '@/usecases/dispatch/stock/showStock'
import { changing, reading } from '@/app/answer'
import { skip } from '@/app/skip'

const query = z.object({
  location: z.string().max(64).optional(),
  search: z.string().trim().max(200).optional(),
  only: z.enum(['short', 'none']).optional(),
  skip,
})

export const GET = reading('GET /api/dispatch/stock', query, (gharry, { skip, location, search, only }) =>
  showStock(
    gharry,
    { ...(location ? { location } : {}), ...(search ? { search } : {}), ...(only ? { only } : {}) },
    skip,
  ),
)

/** So many were counted. */
export const PUT = changing(
  'PUT /api/dispatch/stock',
  z.strictObject({
    location: z.string().max(64),
    sku: z.string().max(200),
    onHand: z.int().nonnegative().max(1_000_000_000),
    note: z.string().max(200),
  }),
  (gharry, body) => countByHand(gharry, body),
)
