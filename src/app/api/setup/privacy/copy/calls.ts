import { z } from 'zod'
import { exportBuyer } from '@/usecases/privacy/buyers'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/setup/privacy/copy',
  z.object({ who: z.string().max(200) }),
  (gharry, { who }) => exportBuyer(gharry, who),
)
