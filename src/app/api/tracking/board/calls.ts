import { showBoard } from '@/usecases/tracking/showBoard'
import { reading } from '@/app/answer'
import { boardQuery } from '@/app/boardQuery'

export const GET = reading('GET /api/tracking/board', boardQuery, (gharry, { filter, sort, offset, most }) =>
  showBoard(gharry, filter, sort, offset, most),
)
