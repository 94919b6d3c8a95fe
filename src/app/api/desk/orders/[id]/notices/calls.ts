import { z } from 'zod'
import { sendNoticeAgain, writeToThemAgain } from '@/usecases/tracking/noticesByHand'
import { changing } from '@/app/answer'
import { idIn } from '@/app/body'

export const POST = changing(
  'POST /api/desk/orders/:id/notices',
  z.object({ medium: z.enum(['mail', 'text']) }),
  (gharry, { medium }, { id }) => sendNoticeAgain(gharry, idIn(id), medium),
)

export const PUT = changing(
  'PUT /api/desk/orders/:id/notices',
  z.object({ address: z.string().min(3).max(254) }),
  (gharry, { address }, { id }) => writeToThemAgain(gharry, idIn(id), address),
)
