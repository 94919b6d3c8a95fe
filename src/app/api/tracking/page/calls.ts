import { z } from 'zod'
import { saveFaces, showFaces } from '@/usecases/tracking/faces'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/tracking/page', z.object({}), (gharry) => showFaces(gharry))

export const PUT = changing(
  'PUT /api/tracking/page',
  z.object({ version: z.int(), draft: z.unknown(), publish: z.boolean() }),
  (gharry, { version, draft, publish }) => saveFaces(gharry, version, draft, publish),
)
