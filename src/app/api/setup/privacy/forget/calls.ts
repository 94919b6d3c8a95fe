import { z } from 'zod'
import { forgetBuyer } from '@/usecases/privacy/buyers'
import { changing } from '@/app/answer'

const wish = z.object({ who: z.string().max(200), orders: z.array(z.int()).max(500) })

export const POST = changing('POST /api/setup/privacy/forget', wish, (gharry, body) => forgetBuyer(gharry, body))
