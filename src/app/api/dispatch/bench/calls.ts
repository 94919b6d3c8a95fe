import { z } from 'zod'
import { openParcel } from '@/usecases/dispatch/bench/openParcel'
import { showBench } from '@/usecases/dispatch/bench/showBench'
import { changing, reading } from '@/app/answer'

const bench = z.string().trim().min(1, 'Give the bench a name.').max(60)

export const GET = reading('GET /api/dispatch/bench', z.object({ bench }), (gharry, query) =>
  showBench(gharry, query.bench),
)

export const POST = changing(
  'POST /api/dispatch/bench',
  z.strictObject({ bench, code: z.string().max(20_000), take: z.boolean(), items: z.boolean().default(true) }),
  (gharry, body) => openParcel(gharry, body),
)
