import { z } from 'zod'
import { setCeiling, setMark, showMoney } from '@/usecases/ledger/balances'
import { changing, reading } from '@/app/answer'

const amount = z.int().nullable()

export const GET = reading('GET /api/ledger/balance', z.object({}), (gharry) => showMoney(gharry))
export const PUT = changing(
  'PUT /api/ledger/balance',
  z.union([z.object({ ceiling: amount }), z.object({ carrier: z.string(), mark: amount, by: amount })]),
  (gharry, body) =>
    'ceiling' in body ? setCeiling(gharry, body.ceiling) : setMark(gharry, body.carrier, body.mark, body.by),
)
