import { spreadDesk } from '@/usecases/desk/showDesk'
import { reading } from '@/app/answer'
import { deskQuery } from '@/app/deskQuery'

export const GET = reading('GET /api/desk/spread', deskQuery, (gharry, { filter }) => spreadDesk(gharry, filter))
