import { z } from 'zod'
import { mostPassword } from '@/core/people'
import { changePassword } from '@/usecases/people/account'
import { changingAs } from '@/app/asPerson'

const password = z.string().max(mostPassword + 100)

export const PUT = changingAs(
  'PUT /api/people/me/password',
  z.strictObject({ before: password, password }),
  (gharry, person, body, { from }) => changePassword(gharry, person, body, from),
)
