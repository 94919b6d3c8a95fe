import type { RegistrationResponseJSON } from '@simplewebauthn/server'
import { z } from 'zod'
import { forgetPasskey } from '@/usecases/people/account'
import { beginPasskey, keepPasskey } from '@/usecases/people/passkeys'
import { changingAs } from '@/app/asPerson'

// What the browser made of it is looked at by the package that verifies it.
const response = z
  .looseObject({ id: z.string().max(2000) })
  .transform((made) => made as unknown as RegistrationResponseJSON)

export const POST = changingAs('POST /api/people/me/passkeys', z.strictObject({}), (gharry, person, _body, { site }) =>
  beginPasskey(gharry, person, site),
)
export const PUT = changingAs(
  'PUT /api/people/me/passkeys',
  z.strictObject({ key: z.string().max(100), name: z.string().max(60), response }),
  (gharry, person, body, { site }) => keepPasskey(gharry, person, body, site),
)
export const DELETE = changingAs(
  'DELETE /api/people/me/passkeys',
  z.strictObject({ id: z.int() }),
  (gharry, person, { id }) => forgetPasskey(gharry, person, id),
)
