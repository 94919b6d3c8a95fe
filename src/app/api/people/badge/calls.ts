import { z } from 'zod'
import { signInByBadge } from '@/usecases/people/badges'
import { stepping } from '@/app/asPerson'

export const POST = stepping(
  'POST /api/people/badge',
  z.strictObject({ badge: z.string().max(60), code: z.string().max(20) }),
  (gharry, body, { from }) => signInByBadge(gharry, body, from),
)
