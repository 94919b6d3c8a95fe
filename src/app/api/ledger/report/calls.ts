import { z } from 'zod'
import { reportDimensions } from '@/data'
import { saveAccounts, showReport } from '@/usecases/ledger/report'
import { changing, reading } from '@/app/answer'

export const GET = reading(
  'GET /api/ledger/report',
  z.object({ by: z.enum(reportDimensions), from: z.iso.date().optional(), until: z.iso.date().optional() }),
  (gharry, { by, from, until }) =>
    showReport(gharry, { by, ...(from === undefined ? {} : { from }), ...(until === undefined ? {} : { until }) }),
)

/** How the accounts are called in one's own plan. */
export const PUT = changing(
  'PUT /api/ledger/report',
  z.strictObject({ version: z.int(), accounts: z.unknown() }),
  (gharry, body) => saveAccounts(gharry, body),
)
