import { z } from 'zod'
import { scanAtDoor, takeOff } from '@/usecases/dispatch/door/scanAtDoor'
import { changing } from '@/app/answer'

const id = z.string().min(1).max(64)

export const POST = changing(
  'POST /api/dispatch/door/scans',
  z.strictObject({
    ...{ carrier: id, location: id },
    ...{ code: z.string().max(20_000), container: z.string().max(60).nullable() },
  }),
  (gharry, body) => scanAtDoor(gharry, body),
)

export const DELETE = changing(
  'DELETE /api/dispatch/door/scans',
  z.strictObject({ manifest: z.int().positive(), label: z.int().positive(), position: z.int().positive() }),
  (gharry, body) => takeOff(gharry, body),
)
