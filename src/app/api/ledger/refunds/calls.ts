import { z } from 'zod'
import { markAsked, settleRefund, showRefunds } from '@/usecases/ledger/refunds'
import { changing, reading } from '@/app/answer'

export const GET = reading(
  'GET /api/ledger/refunds',
  z.object({
    settled: z.string().max(5).optional(),
    carrier: z.string().max(64).optional(),
    days: z.coerce.number().int().min(0).max(120).optional(),
  }),
  (gharry, { settled, carrier, days }) =>
    showRefunds(gharry, {
      settled: settled === 'yes',
      ...(carrier === undefined ? {} : { carrier }),
      ...(days === undefined ? {} : { unseenDays: days }),
    }),
)

export const POST = changing(
  'POST /api/ledger/refunds',
  z.strictObject({ labels: z.array(z.int().positive()).min(1).max(10_000) }),
  (gharry, { labels }) => markAsked(gharry, labels),
)

export const PUT = changing(
  'PUT /api/ledger/refunds',
  z.strictObject({ label: z.int().positive(), granted: z.int().min(0), note: z.string().max(300) }),
  (gharry, body) => settleRefund(gharry, body),
)
