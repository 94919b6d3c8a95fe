import { z } from 'zod'
import { publishDraft, withdrawScheduled } from '@/usecases/editRulebook'
import { changing } from '../../../answer'

export const POST = changing(
  z.object({
    revision: z.int(),
    note: z.string().trim().max(500),
    from: z.union([z.literal(''), z.iso.date('is no date: write YYYY-MM-DD')]).default(''),
  }),
  (gharry, { revision, note, from }) => publishDraft(gharry, revision, note, from),
)
export const DELETE = changing(z.object({ edition: z.int() }), (gharry, { edition }) =>
  withdrawScheduled(gharry, edition),
)
