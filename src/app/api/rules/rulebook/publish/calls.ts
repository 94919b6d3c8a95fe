import { z } from 'zod'
import { publishDraft, withdrawScheduled } from '@/usecases/rules/editRulebook'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/rules/rulebook/publish',
  z.object({
    revision: z.int(),
    note: z.string().trim().max(500),
    from: z.union([z.literal(''), z.iso.date('is no date: write YYYY-MM-DD')]).default(''),
  }),
  (gharry, { revision, note, from }) => publishDraft(gharry, revision, note, from),
)
export const DELETE = changing(
  'DELETE /api/rules/rulebook/publish',
  z.object({ edition: z.int() }),
  (gharry, { edition }) => withdrawScheduled(gharry, edition),
)
