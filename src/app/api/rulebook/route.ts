import { z } from 'zod'
import { saveDraft, showRulebook } from '@/usecases/editRulebook'
import { changing, reading, rulebookBody } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showRulebook(gharry))
export const PUT = changing(
  z.object({ rulebook: z.unknown(), revision: z.int() }),
  (gharry, { rulebook, revision }) => saveDraft(gharry, rulebook, revision),
  rulebookBody,
)
