import { z } from 'zod'
import { forgetLetterText, saveLetterText } from '@/usecases/desk/writeToBuyers'
import { changing } from '@/app/answer'
import { letterText } from '../toWrite'

export const PUT = changing(
  'PUT /api/desk/letters/texts',
  z.strictObject({ name: z.string().max(80), text: letterText }),
  (gharry, body) => saveLetterText(gharry, body),
)

export const DELETE = changing('DELETE /api/desk/letters/texts', z.object({ id: z.number().int() }), (gharry, { id }) =>
  forgetLetterText(gharry, id),
)
