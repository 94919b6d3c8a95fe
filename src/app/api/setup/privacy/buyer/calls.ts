import { z } from 'zod'
import { findBuyer } from '@/usecases/privacy/buyers'
import { changing } from '@/app/answer'

// By POST: whom one looks for is in no address and no log.
export const POST = changing(
  'POST /api/setup/privacy/buyer',
  z.object({ who: z.string().max(200) }),
  (gharry, { who }) => findBuyer(gharry, who),
)
