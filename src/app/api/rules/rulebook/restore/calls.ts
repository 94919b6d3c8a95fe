import { z } from 'zod'
import { restoreEdition } from '@/usecases/rules/editRulebook'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/rules/rulebook/restore',
  z.object({ edition: z.int(), revision: z.int() }),
  (gharry, { edition, revision }) => restoreEdition(gharry, edition, revision),
)
