import { selectDesk } from '@/usecases/showDesk'
import { reading } from '../../../answer'
import { deskQuery } from '../../../deskQuery'

export const GET = reading(deskQuery, (gharry, { filter }) => selectDesk(gharry, filter))
