import { z } from 'zod'
import { editMany, showEdits, undoEdit } from '@/usecases/desk/editMany'
import { changing, reading } from '@/app/answer'
import { manyEdit } from './edit'

export const GET = reading('GET /api/desk/edits', z.object({}), (gharry) => showEdits(gharry))

export const POST = changing(
  'POST /api/desk/edits',
  manyEdit.extend({ key: z.string().min(8).max(80) }),
  (gharry, body) => editMany(gharry, body),
)

export const DELETE = changing('DELETE /api/desk/edits', z.object({ edit: z.number().int() }), (gharry, { edit }) =>
  undoEdit(gharry, edit),
)
