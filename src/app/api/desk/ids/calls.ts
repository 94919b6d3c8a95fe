import { selectDesk } from '@/usecases/desk/showDesk'
import { reading } from '@/app/answer'
import { deskQuery } from '@/app/deskQuery'

export const GET = reading('GET /api/desk/ids', deskQuery, (gharry, { filter, sorts }) =>
  selectDesk(gharry, filter, sorts),
)
