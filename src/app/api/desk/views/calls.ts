import { z } from 'zod'
import { removeView, saveView, showViews } from '@/usecases/desk/views'
import { changing, reading } from '@/app/answer'

const id = z.string().min(1).max(40)
const columns = z.strictObject({
  hidden: z.array(id).max(60),
  order: z.array(id).max(60),
  sizes: z.record(id, z.number().int().min(1).max(2000)),
})

export const GET = reading('GET /api/desk/views', z.object({}), (gharry) => showViews(gharry))

export const PUT = changing(
  'PUT /api/desk/views',
  z.strictObject({ name: z.string().max(80), shared: z.boolean(), query: z.string().max(4000), columns }),
  (gharry, view) => saveView(gharry, view),
)

export const DELETE = changing('DELETE /api/desk/views', z.object({ id: z.number().int() }), (gharry, body) =>
  removeView(gharry, body.id),
)
