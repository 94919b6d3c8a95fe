import { z } from 'zod'
import { endAllOf } from '@/usecases/people/people'
import { changing } from '@/app/answer'

export const DELETE = changing('DELETE /api/people/sign-ins', z.strictObject({ id: z.int() }), (gharry, { id }) =>
  endAllOf(gharry, id),
)
