import { z } from 'zod'
import { strokesSchema } from '@/core/handover'
import { findAtCounter, handOut } from '@/usecases/dispatch/counter/handOut'
import { showCounter } from '@/usecases/dispatch/counter/showCounter'
import { changing, reading } from '@/app/answer'

const location = z.string().min(1).max(64)

export const GET = reading('GET /api/dispatch/counter', z.object({ location }), (gharry, query) =>
  showCounter(gharry, query.location),
)

/** Finds what somebody has come for. */
export const POST = changing(
  'POST /api/dispatch/counter',
  z.strictObject({ location, words: z.string().max(200) }),
  (gharry, body) => findAtCounter(gharry, body),
)

export const PUT = changing(
  'PUT /api/dispatch/counter',
  z.strictObject({ label: z.int().positive(), to: z.string().max(120), signature: strokesSchema }),
  (gharry, body) => handOut(gharry, body),
)
