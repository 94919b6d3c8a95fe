import { z } from 'zod'
import { answerReturn } from '@/usecases/tracking/returns/answerReturn'
import { askReturnFor } from '@/usecases/tracking/returns/askReturn'
import { returnLists, showReturns, type ReturnList } from '@/usecases/tracking/returns/showReturns'
import { changing, reading } from '@/app/answer'
import { skip } from '@/app/skip'

const lists = Object.keys(returnLists) as [ReturnList, ...ReturnList[]]
const id = z.int().positive()
const words = z.string().max(1000)

export const GET = reading(
  'GET /api/tracking/returns',
  z.object({ list: z.enum(lists).default('asked'), skip }),
  (gharry, query) => showReturns(gharry, query.list, query.skip),
)

/** Somebody has asked on the telephone to send something back. */
export const POST = changing(
  'POST /api/tracking/returns',
  z.strictObject({
    label: id,
    pieces: z.array(z.strictObject({ item: z.int().nonnegative(), quantity: z.int().positive() })).max(10_000),
    reason: z.string().max(40),
    words,
  }),
  (gharry, body) => askReturnFor(gharry, body),
)

export const PUT = changing(
  'PUT /api/tracking/returns',
  z.strictObject({ id, take: z.boolean(), why: words, service: z.string().max(64), paidByBuyer: z.boolean() }),
  (gharry, body) => answerReturn(gharry, body),
)
