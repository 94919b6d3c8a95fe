import { z } from 'zod'
import { languages } from '@/core/telling'
import { drawCustomerPage } from '@/ui/customer/draw'
import { sampleView } from '@/usecases/tracking/samplePage'
import { changing } from '@/app/answer'

/** The customer's page as a draft would make it. */
export const POST = changing(
  'POST /api/tracking/page/preview',
  z.object({
    draft: z.unknown(),
    channel: z.string().max(64),
    language: z.enum(languages),
    parcels: z.int().min(1).max(3),
  }),
  async (gharry, { draft, channel, language, parcels }) => {
    const view = await sampleView(gharry, draft, channel, language, parcels)
    return typeof view === 'string'
      ? { ok: true as const, html: '', problem: view }
      : { ok: true as const, html: drawCustomerPage(view, language), problem: '' }
  },
)
