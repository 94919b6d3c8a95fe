import { z } from 'zod'
import { restoreEdition } from '@/usecases/editRulebook'
import { changing } from '../../../answer'

export const POST = changing(z.object({ edition: z.int(), revision: z.int() }), (gharry, { edition, revision }) =>
  restoreEdition(gharry, edition, revision),
)
