import { z } from 'zod'
import { changeWebhook, makeWebhook, showWebhooks } from '@/usecases/open/webhooks'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/setup/webhooks', z.object({}), showWebhooks)
export const POST = changing(
  'POST /api/setup/webhooks',
  z.object({ name: z.string().max(80), url: z.string().max(500), types: z.array(z.string().max(40)).max(20) }),
  makeWebhook,
)
export const PUT = changing(
  'PUT /api/setup/webhooks',
  z.object({
    id: z.string().max(60),
    change: z.union([
      z.object({ on: z.boolean() }),
      z.object({ remove: z.literal(true) }),
      z.object({ again: z.union([z.int(), z.literal('failed')]) }),
    ]),
  }),
  (gharry, { id, change }) => changeWebhook(gharry, id, change),
)
