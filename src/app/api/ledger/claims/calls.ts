import { z } from 'zod'
import { markClaimed, settleClaim, showClaims } from '@/usecases/ledger/claims'
import { changing, reading } from '@/app/answer'

export const GET = reading(
  'GET /api/ledger/claims',
  z.object({ settled: z.string().max(5).optional(), carrier: z.string().max(64).optional() }),
  (gharry, { settled, carrier }) => showClaims(gharry, settled === 'yes', carrier),
)

export const POST = changing(
  'POST /api/ledger/claims',
  z.object({ ids: z.array(z.int().positive()).min(1).max(10_000) }),
  (gharry, { ids }) => markClaimed(gharry, ids),
)

export const PUT = changing(
  'PUT /api/ledger/claims',
  z.object({ id: z.int().positive(), granted: z.int().min(0), note: z.string().max(300) }),
  (gharry, { id, granted, note }) => settleClaim(gharry, id, granted, note),
)
