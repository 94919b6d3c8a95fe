import { z } from 'zod'
import { showTracking } from '@/usecases/showLine'
import { retryWork } from '@/usecases/changeChannel'
import { changing, reading } from '../../answer'

export const GET = reading(z.object({ state: z.enum(['queued', 'sent', 'failed', 'dropped']).optional() }), (gharry, { state }) => showTracking(gharry, state ?? null))
export const POST = changing(z.object({ retry: z.enum(['posts', 'notices']), id: z.int() }), (gharry, { retry, id }) => retryWork(gharry, retry, id))
