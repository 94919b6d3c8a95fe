import { z } from 'zod'
import { roleIds } from '@/core/people'
import { changePersonBy, invite, showPeople } from '@/usecases/people/people'
import { changing, reading } from '@/app/answer'
import { changingAs } from '@/app/asPerson'

const role = z.enum(roleIds)
const location = z.string().max(60).nullable()
const text = z.string().max(250)

export const GET = reading('GET /api/people', z.object({}), showPeople)
export const POST = changing('POST /api/people', z.strictObject({ name: text, email: text, role, location }), invite)
export const PUT = changingAs(
  'PUT /api/people',
  z.union([
    z.strictObject({ id: z.int(), role, location, name: text }),
    z.strictObject({ id: z.int(), ended: z.boolean() }),
    z.strictObject({ id: z.int(), second: z.null() }),
  ]),
  changePersonBy,
)
