/** @jsxImportSource preact */
import { z } from 'zod'
import { languages } from '@/core/telling'
import { CustomerPage } from '@/ui/customer/CustomerPage'
import { pageHtml } from '@/ui/customer/html'
import { sayIn } from '@/ui/customer/words'
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
    if (typeof view === 'string') return { ok: true as const, html: '', problem: view }
    const head = { language, title: sayIn(language)('title'), colours: view.colours }
    return { ok: true as const, html: pageHtml(<CustomerPage view={view} language={language} />, head), problem: '' }
  },
)
