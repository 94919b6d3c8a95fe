import { z } from 'zod'
import { showLetterTexts, writeToBuyers } from '@/usecases/desk/writeToBuyers'
import { changing, reading } from '@/app/answer'
import { toWrite } from './toWrite'

export const GET = reading('GET /api/desk/letters', z.object({}), (gharry) => showLetterTexts(gharry))

export const POST = changing(
  'POST /api/desk/letters',
  toWrite.extend({ key: z.string().min(8).max(80) }),
  (gharry, body) => writeToBuyers(gharry, body),
)
