import { z } from 'zod'
import { endToken, makeToken, showTokens } from '@/usecases/open/tokens'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/setup/tokens', z.object({}), showTokens)
export const POST = changing(
  'POST /api/setup/tokens',
  z.object({ name: z.string().max(80), scopes: z.array(z.string().max(40)).max(20) }),
  (gharry, { name, scopes }) => makeToken(gharry, name, scopes),
)
export const DELETE = changing('DELETE /api/setup/tokens', z.object({ id: z.int() }), (gharry, { id }) =>
  endToken(gharry, id),
)
