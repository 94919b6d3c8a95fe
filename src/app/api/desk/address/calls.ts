import { z } from 'zod'
import { readBlock } from '@/usecases/desk/correctAddress'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/desk/address',
  z.object({ text: z.string().min(1, 'is empty').max(2000), country: z.string().max(2) }),
  (_gharry, { text, country }) => Promise.resolve({ ok: true as const, ...readBlock(text, country) }),
)
