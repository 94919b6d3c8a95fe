import { z } from 'zod'
import { newContainer } from '@/usecases/dispatch/door/scanAtDoor'
import { changing } from '@/app/answer'

const id = z.string().min(1).max(64)

export const POST = changing(
  'POST /api/dispatch/door/containers',
  z.strictObject({ carrier: id, location: id }),
  (gharry, body) => newContainer(gharry, body),
)
