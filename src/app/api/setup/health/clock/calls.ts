import { z } from 'zod'
import { sayClockIsRight } from '@/usecases/health/showHealth'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/setup/health/clock', z.object({}), (gharry) => sayClockIsRight(gharry))
