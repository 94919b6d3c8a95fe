import { z } from 'zod'
import { showLine } from '@/usecases/shared/showLine'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/line', z.object({}), (gharry) => showLine(gharry))
