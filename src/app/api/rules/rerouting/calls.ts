import { z } from 'zod'
import { showRerouting } from '@/usecases/rules/showRerouting'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/rules/rerouting', z.object({}), async (gharry) => ({
  rerouting: await showRerouting(gharry),
}))
