import { z } from 'zod'
import { showUses } from '@/usecases/setup/changeList'
import { listNames } from '@/usecases/setup/lists'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/setup/uses',
  z.object({ list: z.enum(listNames), key: z.string().max(200) }),
  (gharry, { list, key }) => showUses(gharry, list, key),
)
