import { z } from 'zod'
import { settleRestored } from '@/usecases/backups/afterRestore'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/setup/health/restored', z.object({}), settleRestored)
