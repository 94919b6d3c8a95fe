import { z } from 'zod'
import { saveDraft, showRulebook } from '@/usecases/rules/editRulebook'
import { changing, reading, rulebookBody } from '@/app/answer'

export const GET = reading('GET /api/rules/rulebook', z.object({}), (gharry) => showRulebook(gharry))
export const PUT = changing(
  'PUT /api/rules/rulebook',
  z.object({ rulebook: z.unknown(), revision: z.int() }),
  (gharry, { rulebook, revision }) => saveDraft(gharry, rulebook, revision),
  rulebookBody,
)
