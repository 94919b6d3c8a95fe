import { z } from 'zod'
import { showTracking } from '@/usecases/showLine'
import { retryAll, retryWork } from '@/usecases/changeChannel'
import { changing, reading } from '../../answer'

export const GET = reading(
  z.object({ state: z.enum(['queued', 'sent', 'failed', 'dropped']).optional() }),
  (gharry, { state }) => showTracking(gharry, state ?? null),
)
export const POST = changing(
  z.object({ retry: z.enum(['posts', 'notices']), id: z.union([z.int(), z.literal('all')]) }),
  async (gharry, { retry, id }) =>
    id === 'all' ? retryAll(gharry, retry) : { ...(await retryWork(gharry, retry, id)), again: 1 },
)
