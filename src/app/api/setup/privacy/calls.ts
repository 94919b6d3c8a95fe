import { z } from 'zod'
import { saveLife, showPrivacy } from '@/usecases/privacy/buyers'
import { changing, reading } from '@/app/answer'

const rows = z.array(z.object({ scope: z.string(), days: z.number() })).max(300)

export const GET = reading('GET /api/setup/privacy', z.object({}), (gharry) => showPrivacy(gharry))
export const PUT = changing('PUT /api/setup/privacy', z.object({ before: rows, after: rows }), (gharry, body) =>
  saveLife(gharry, body.before, body.after),
)
