import { z } from 'zod'
import { chooseWatched, refuseProposal, showProposals } from '@/usecases/people/proposals'
import { changing } from '@/app/answer'
import { changingAs, readingAs } from '@/app/asPerson'
import { doAgreed } from '@/app/secondEyes'

export const GET = readingAs('GET /api/people/proposals', showProposals)
export const POST = changingAs(
  'POST /api/people/proposals',
  z.strictObject({ id: z.int(), agree: z.boolean() }),
  async (gharry, person, { id, agree }, { site }) => {
    if (agree) return doAgreed(gharry, person, id, new URL(site.origin).host)
    const answer = await refuseProposal(gharry, person, id)
    return answer.ok ? { ok: true, outcome: 'Refused' } : answer
  },
)
export const PUT = changing(
  'PUT /api/people/proposals',
  z.strictObject({ version: z.int(), kinds: z.array(z.string().max(40)).max(20) }),
  chooseWatched,
)
