import { z } from 'zod'
import { printMonth } from '@/usecases/ledger/printMonth'
import { changing } from '@/app/answer'
import { refuse } from '@/usecases/shared/application'

/** Makes the PDF of a month, and says where to fetch it. */
export const POST = changing(
  'POST /api/ledger/report/print',
  z.strictObject({ month: z.string().regex(/^20\d\d-(0[1-9]|1[0-2])$/, 'is no month such as 2026-11') }),
  async (gharry, { month }) => {
    const file = await printMonth(gharry, month)
    if (!file) return refuse('missing', 'Nothing was shipped in that month: choose another one.')
    file.content.destroy()
    return { ok: true as const, file: `/api/dispatch/prints/${file.name}`, pages: file.pages }
  },
)
