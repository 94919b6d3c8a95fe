import { z } from 'zod'
import { changeItems, removeItem, showItems } from '@/usecases/intake/items'
import { changing, reading } from '@/app/answer'

const rows = z
  .array(z.record(z.string(), z.string().max(500)))
  .min(1)
  .max(1000)

export const GET = reading('GET /api/intake/items', z.object({ q: z.string().max(200).default('') }), (gharry, { q }) =>
  showItems(gharry, q),
)
export const PUT = changing('PUT /api/intake/items', z.object({ rows, version: z.int() }), (gharry, body) =>
  changeItems(
    gharry,
    body.rows.map((cells, i) => ({ line: i + 1, cells })),
    body.version,
  ),
)
export const DELETE = changing(
  'DELETE /api/intake/items',
  z.object({ sku: z.string(), version: z.int() }),
  (gharry, { sku, version }) => removeItem(gharry, sku, version),
)
