import { spreadBoard } from '@/usecases/tracking/showBoard'
import { reading } from '@/app/answer'
import { boardFilter } from '@/app/boardQuery'

export const GET = reading('GET /api/tracking/board/spread', boardFilter, spreadBoard)
