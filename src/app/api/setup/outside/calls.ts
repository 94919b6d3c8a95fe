import { z } from 'zod'
import { connectOutside, showOutside } from '@/usecases/setup/outside'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/setup/outside', z.object({}), (gharry) => showOutside(gharry))
export const POST = changing('POST /api/setup/outside', z.object({ name: z.string().min(1) }), (gharry, { name }) =>
  connectOutside(gharry, name),
)
