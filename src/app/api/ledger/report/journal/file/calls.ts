import { z } from 'zod'
import { journalFile } from '@/usecases/ledger/report'
import { downloading } from '@/app/fileAnswer'

const query = z.object({ from: z.iso.date(), until: z.iso.date() })

export const GET = downloading('journal', async (gharry, format, asked) => {
  const days = query.safeParse(Object.fromEntries(asked))
  return days.success ? journalFile(gharry, days.data, format) : null
})
