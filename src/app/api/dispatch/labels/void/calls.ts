import { z } from 'zod'
import { voidMany } from '@/usecases/dispatch/voidMany'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/dispatch/labels/void',
  z.strictObject({ labels: z.array(z.int().positive()).min(1, 'choose at least one label').max(2000) }),
  (gharry, { labels }) => voidMany(gharry, labels),
)
