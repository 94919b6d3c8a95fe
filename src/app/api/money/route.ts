import { z } from 'zod'
import { setCeiling, setMark, showMoney } from '@/usecases/money'
import { changing, reading } from '../../answer'

const amount = z.int().nullable()

export const GET = reading(z.object({}), (gharry) => showMoney(gharry))
export const PUT = changing(
  z.union([z.object({ ceiling: amount }), z.object({ carrier: z.string(), mark: amount, by: amount })]),
  (gharry, body) =>
    'ceiling' in body ? setCeiling(gharry, body.ceiling) : setMark(gharry, body.carrier, body.mark, body.by),
)
