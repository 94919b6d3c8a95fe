import { z } from 'zod'
import { readBlock } from '@/usecases/mendAddress'
import { changing } from '../../answer'

export const POST = changing(
  z.object({ text: z.string().min(1, 'is empty').max(2000), country: z.string().max(2) }),
  (_gharry, { text, country }) => Promise.resolve({ ok: true as const, ...readBlock(text, country) }),
)
