import { previewLetters } from '@/usecases/desk/writeToBuyers'
import { changing } from '@/app/answer'
import { toWrite } from '../toWrite'

export const POST = changing('POST /api/desk/letters/preview', toWrite, (gharry, body) => previewLetters(gharry, body))
