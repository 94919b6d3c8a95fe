import { z } from 'zod'
import { whoIs } from '@/usecases/people/signedIn'
import { signOut } from '@/usecases/people/signIn'
import { stepping } from '@/app/asPerson'

export const POST = stepping('POST /api/people/sign-out', z.strictObject({}), async (gharry, _body, { secret }) => {
  const person = await whoIs(gharry, secret)
  if (person) await signOut(gharry, person)
  return { ok: true, cookie: null }
})
