import { z } from 'zod'
import { confirmSecond, proposeSecond, removeSecond } from '@/usecases/people/secondFactor'
import { changingAs } from '@/app/asPerson'

const code = z.strictObject({ code: z.string().max(40) })

export const POST = changingAs('POST /api/people/me/second', z.strictObject({}), proposeSecond)
export const PUT = changingAs('PUT /api/people/me/second', code, (gharry, person, given) =>
  confirmSecond(gharry, person, given.code),
)
export const DELETE = changingAs('DELETE /api/people/me/second', code, (gharry, person, given, { from }) =>
  removeSecond(gharry, person, given.code, from),
)
