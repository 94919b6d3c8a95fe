import { z } from 'zod'
import { endElsewhere } from '@/usecases/people/account'
import { changingAs } from '@/app/asPerson'

export const DELETE = changingAs(
  'DELETE /api/people/me/sign-ins',
  z.strictObject({ which: z.union([z.int(), z.literal('others')]) }),
  (gharry, person, { which }) => endElsewhere(gharry, person, which),
)
