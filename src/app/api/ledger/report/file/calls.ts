import { z } from 'zod'
import { reportDimensions } from '@/data'
import { reportFile } from '@/usecases/ledger/report'
import { downloading } from '@/app/fileAnswer'

const day = z.iso.date().optional().catch(undefined)
const query = z.object({ by: z.enum(reportDimensions).catch('carrier'), from: day, until: day })

export const GET = downloading('spend', (gharry, format, asked) => {
  const { by, from, until } = query.parse(Object.fromEntries(asked))
  return reportFile(gharry, { by, ...(from ? { from } : {}), ...(until ? { until } : {}) }, format)
})
