import { z } from 'zod'
import { showEditions } from '@/usecases/rules/editRulebook'
import { reading } from '@/app/answer'
import { skip } from '@/app/skip'

export const GET = reading('GET /api/rules/editions', z.object({ skip }), (gharry, query) =>
  showEditions(gharry, query.skip),
)
