import { z } from 'zod'
import { strokesSchema } from '@/core/handover'
import { closeDoor } from '@/usecases/dispatch/door/closeDoor'
import { showDoor } from '@/usecases/dispatch/door/doorView'
import { changing, reading } from '@/app/answer'

const id = z.string().min(1).max(64)

export const GET = reading('GET /api/dispatch/door', z.object({ carrier: id, location: id }), (gharry, query) =>
  showDoor(gharry, query.carrier, query.location),
)

export const POST = changing(
  'POST /api/dispatch/door',
  z.strictObject({
    manifest: z.int().positive(),
    driver: z.string().max(120),
    signature: strokesSchema,
    leaving: z.int().min(0),
    parcels: z.int().min(0),
  }),
  (gharry, body) => closeDoor(gharry, body),
)
