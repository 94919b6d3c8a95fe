import { showDesk } from '@/usecases/desk/showDesk'
import { reading } from '@/app/answer'
import { deskQuery } from '@/app/deskQuery'

export const GET = reading('GET /api/desk', deskQuery, (gharry, { filter, sorts, offset, most }) =>
  showDesk(gharry, filter, sorts, offset, most),
)
