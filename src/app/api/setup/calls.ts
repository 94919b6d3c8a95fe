import { z } from 'zod'
import { showSetup } from '@/usecases/setup/showSetup'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/setup', z.object({}), (gharry) => showSetup(gharry))
