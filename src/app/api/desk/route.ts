import { showDesk } from '@/usecases/showDesk'
import { reading } from '../../answer'
import { deskQuery } from '../../deskQuery'

export const GET = reading(deskQuery, (gharry, { filter, sorts, offset, most }) =>
  showDesk(gharry, filter, sorts, offset, most),
)
