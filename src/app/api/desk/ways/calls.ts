import { z } from 'zod'
import { showWays, takeWay } from '@/usecases/desk/waysOut'
import { changing } from '@/app/answer'
import { manyEdit } from '../edits/edit'

const { orders, edits } = manyEdit.shape

export const POST = changing('POST /api/desk/ways', z.strictObject({ orders }), (gharry, body) =>
  showWays(gharry, body.orders),
)

export const PUT = changing(
  'PUT /api/desk/ways',
  z.strictObject({
    orders,
    edits,
    key: z.string().min(8).max(80),
    address: z.enum(['corrected', 'as it is']).nullable(),
  }),
  (gharry, body) => takeWay(gharry, body),
)
