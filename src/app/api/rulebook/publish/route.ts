import { z } from 'zod'
import { publishDraft } from '@/usecases/editRulebook'
import { changing } from '../../../answer'

export const POST = changing(z.object({ revision: z.int(), note: z.string().trim().max(500) }), (gharry, { revision, note }) => publishDraft(gharry, revision, note))
