import { z } from 'zod'
import { mostPassword } from '@/core/people'
import { useWelcome } from '@/usecases/people/welcome'
import { stepping } from '@/app/asPerson'

const text = z.string().max(250)

export const POST = stepping(
  'POST /api/people/welcome',
  z.strictObject({
    secret: z.string().max(100),
    name: text,
    email: text,
    password: z.string().max(mostPassword + 100),
  }),
  (gharry, body, { from }) => useWelcome(gharry, body, from),
)
