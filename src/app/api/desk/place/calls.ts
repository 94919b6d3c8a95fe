import { placeOnDesk } from '@/usecases/desk/showDesk'
import { reading } from '@/app/answer'
import { deskQuery } from '@/app/deskQuery'

export const GET = reading('GET /api/desk/place', deskQuery, (gharry, { filter, sorts, order }) =>
  placeOnDesk(gharry, filter, sorts, order),
)
