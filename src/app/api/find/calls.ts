import { z } from 'zod'
import { find } from '@/usecases/shared/find'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/find', z.object({ q: z.string().max(200) }), (gharry, { q }) => find(gharry, q))
