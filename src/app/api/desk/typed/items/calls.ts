import { z } from 'zod'
import { findItems } from '@/usecases/desk/typeOrder'
import { reading } from '@/app/answer'

export const GET = reading(
  'GET /api/desk/typed/items',
  z.object({ q: z.string().max(100).default('') }),
  (gharry, { q }) => findItems(gharry, q),
)
