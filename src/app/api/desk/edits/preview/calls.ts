import { previewEdit } from '@/usecases/desk/previewEdit'
import { changing } from '@/app/answer'
import { manyEdit } from '../edit'

export const POST = changing('POST /api/desk/edits/preview', manyEdit, (gharry, body) => previewEdit(gharry, body))
