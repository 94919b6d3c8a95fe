import { z } from 'zod'
import { showDay } from '@/usecases/dispatch/waves'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/dispatch/day', z.object({}), (gharry) => showDay(gharry))
