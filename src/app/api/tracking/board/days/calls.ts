import { z } from 'zod'
import { showBoardDays } from '@/usecases/tracking/showBoard'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/tracking/board/days', z.object({}), showBoardDays)
