import { z } from 'zod'
import { mostPassword } from '@/core/people'
import { signIn } from '@/usecases/people/signIn'
import { stepping } from '@/app/asPerson'

export const POST = stepping(
  'POST /api/people/sign-in',
  z.strictObject({ email: z.string().max(250), password: z.string().max(mostPassword) }),
  (gharry, body, { from }) => signIn(gharry, body, from),
)
