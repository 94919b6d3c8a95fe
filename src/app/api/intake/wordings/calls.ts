import { z } from 'zod'
import { changeWordings, showWordings } from '@/usecases/intake/wordings'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/intake/wordings', z.object({}), (gharry) => showWordings(gharry))
export const PUT = changing(
  'PUT /api/intake/wordings',
  z.object({ channel: z.string(), rows: z.unknown(), version: z.int() }),
  (gharry, { channel, rows, version }) => changeWordings(gharry, channel, rows, version),
)
