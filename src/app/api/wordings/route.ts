import { z } from 'zod'
import { changeWordings, showWordings } from '@/usecases/wordings'
import { changing, reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showWordings(gharry))
export const PUT = changing(
  z.object({ channel: z.string(), rows: z.unknown(), version: z.int() }),
  (gharry, { channel, rows, version }) => changeWordings(gharry, channel, rows, version),
)
