import { z } from 'zod'
import { setCeiling, setCredit, setMark, showMoney } from '@/usecases/ledger/balances'
import { changing, reading } from '@/app/answer'
import { skip } from '@/app/skip'

const amount = z.int().nullable()

export const GET = reading('GET /api/ledger/balance', z.object({ bookings: skip, invoices: skip }), showMoney)
export const PUT = changing(
  'PUT /api/ledger/balance',
  z.union([
    z.object({ ceiling: amount }),
    z.object({ carrier: z.string(), mark: amount, by: amount }),
    z.object({ carrier: z.string(), credit: amount }),
  ]),
  (gharry, body) => {
    if ('ceiling' in body) return setCeiling(gharry, body.ceiling)
    return 'credit' in body
      ? setCredit(gharry, body.carrier, body.credit)
      : setMark(gharry, body.carrier, body.mark, body.by)
  },
)
