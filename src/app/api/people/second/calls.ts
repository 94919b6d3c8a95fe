import { z } from 'zod'
import { giveSecond } from '@/usecases/people/signIn'
import { stepping } from '@/app/asPerson'

export const POST = stepping(
  'POST /api/people/second',
  z.strictObject({ code: z.string().max(40) }),
  (gharry, { code }, { from, secret }) => giveSecond(gharry, secret, code, from),
)
