import { z } from 'zod'
import { showOwnServices, takeOwnServices } from '@/usecases/setup/carriersOwn'
import { changing } from '@/app/answer'

export const POST = changing('POST /api/setup/carriers/:id', z.object({}), (gharry, _body, { id }) =>
  showOwnServices(gharry, id),
)
export const PUT = changing(
  'PUT /api/setup/carriers/:id',
  z.object({ services: z.array(z.string()).min(1).max(500) }),
  (gharry, { services }, { id }) => takeOwnServices(gharry, id, services),
)
