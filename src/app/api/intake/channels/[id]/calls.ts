import { z } from 'zod'
import { changeChannelSettings } from '@/usecases/intake/changeChannel'
import { changing } from '@/app/answer'

export const PATCH = changing(
  'PATCH /api/intake/channels/:id',
  z.object({
    tellWhen: z.enum(['bought', 'dispatched']).optional(),
    everyMinutes: z.int().min(0).max(1440).optional(),
  }),
  (gharry, change, { id }) => changeChannelSettings(gharry, id, change),
)
