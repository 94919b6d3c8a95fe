import { z } from 'zod'
import { changePresets } from '@/usecases/rules/editRulebook'
import { changing } from '@/app/answer'

const side = z.int('must be whole millimetres').min(1).max(5000)
const size = z.tuple([side, side, side])
const preset = z.object({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'may hold small letters, digits and dashes'),
  name: z.string().trim().min(1).max(60),
  inner: size,
  outer: size,
  tare: z.int().min(0).max(100_000),
  limit: z.int().min(1).max(2_000_000),
  cost: z.int().min(0).max(1_000_000).optional(),
  stock: z.int().min(0).optional(),
})
export const PUT = changing(
  'PUT /api/dispatch/presets',
  z.object({ presets: z.array(preset).max(200) }),
  (gharry, { presets }) => changePresets(gharry, presets),
)
