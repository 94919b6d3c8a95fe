import { z } from 'zod'
import { setChannelStock } from '@/usecases/dispatch/stock/channelsStock'
import { changing } from '@/app/answer'

export const PUT = changing(
  'PUT /api/dispatch/stock/channels',
  z.strictObject({
    channel: z.string().min(1).max(64),
    stock: z.enum(['', 'says', 'told']),
    location: z.string().max(64),
  }),
  (gharry, body) => setChannelStock(gharry, body),
)
