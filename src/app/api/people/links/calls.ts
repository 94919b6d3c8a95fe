import { z } from 'zod'
import { newLink } from '@/usecases/people/people'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/people/links', z.strictObject({ id: z.int() }), (gharry, { id }) =>
  newLink(gharry, id),
)
