import { z } from 'zod'
import { endBadge, makeBadge } from '@/usecases/people/badges'
import { changing } from '@/app/answer'

const body = z.strictObject({ id: z.int() })

export const POST = changing('POST /api/people/badges', body, (gharry, { id }) => makeBadge(gharry, id))
export const DELETE = changing('DELETE /api/people/badges', body, (gharry, { id }) => endBadge(gharry, id))
