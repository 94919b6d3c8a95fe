import { z } from 'zod'
import { showTracking } from '@/usecases/tracking/showTracking'
import { retryAll, retryWork } from '@/usecases/intake/changeChannel'
import { changing, reading } from '@/app/answer'

export const GET = reading(
  'GET /api/tracking',
  z.object({ state: z.enum(['queued', 'sent', 'failed', 'dropped']).optional() }),
  (gharry, { state }) => showTracking(gharry, state ?? null),
)
export const POST = changing(
  'POST /api/tracking',
  z.object({ retry: z.enum(['posts', 'notices', 'handovers']), id: z.union([z.int(), z.literal('all')]) }),
  async (gharry, { retry, id }) =>
    id === 'all' ? retryAll(gharry, retry) : { ...(await retryWork(gharry, retry, id)), again: 1 },
)
