import { z } from 'zod'
import { changeChannelSettings } from '@/usecases/changeChannel'
import { changing } from '../../../../answer'

export const PATCH = changing(
  z.object({
    tellWhen: z.enum(['bought', 'dispatched']).optional(),
    everyMinutes: z.int().min(0).max(1440).optional(),
  }),
  (gharry, change, { id }) => changeChannelSettings(gharry, id!, change),
)
