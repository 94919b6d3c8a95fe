import { z } from 'zod'
import { saveConnection, showConnections } from '@/usecases/intake/connections'
import { changing, reading } from '@/app/answer'
import { connectionInput } from './shape'

export const GET = reading('GET /api/intake/connections', z.object({}), (gharry) => showConnections(gharry))
export const POST = changing('POST /api/intake/connections', connectionInput, (gharry, input) =>
  saveConnection(gharry, null, input),
)
