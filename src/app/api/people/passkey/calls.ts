import type { AuthenticationResponseJSON } from '@simplewebauthn/server'
import { z } from 'zod'
import { askForPasskey, signInByPasskey } from '@/usecases/people/passkeys'
import { changingBefore, stepping } from '@/app/asPerson'

// What the browser made of it is looked at by the package that verifies it.
const response = z
  .looseObject({ id: z.string().max(2000) })
  .transform((made) => made as unknown as AuthenticationResponseJSON)

export const POST = changingBefore('POST /api/people/passkey', z.strictObject({}), (gharry, _body, { site }) =>
  askForPasskey(gharry, site),
)
export const PUT = stepping(
  'PUT /api/people/passkey',
  z.strictObject({ key: z.string().max(100), response }),
  (gharry, body, { site, from }) => signInByPasskey(gharry, body, site, from),
)
