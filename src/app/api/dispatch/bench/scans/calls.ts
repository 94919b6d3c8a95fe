import { z } from 'zod'
import { scanItems, undoLast } from '@/usecases/dispatch/bench/checkParcel'
import { changing } from '@/app/answer'

const scan = z.strictObject({
  key: z.string().min(8).max(80),
  code: z.string().max(20_000),
  typed: z.number().int().min(1).max(100_000).nullable(),
  at: z.iso.datetime(),
})

export const POST = changing(
  'POST /api/dispatch/bench/scans',
  z.strictObject({ check: z.number().int(), scans: z.array(scan).min(1).max(2000) }),
  (gharry, body) => scanItems(gharry, body),
)

export const DELETE = changing(
  'DELETE /api/dispatch/bench/scans',
  z.strictObject({ check: z.number().int() }),
  (gharry, { check }) => undoLast(gharry, check),
)
