import { z } from 'zod'
import { correctAddress, showAddress } from '@/usecases/desk/correctAddress'
import { changing, reading } from '@/app/answer'
import { idIn } from '@/app/body'

const text = z
  .string()
  .max(200)
  .transform((given) => given.normalize('NFKC').replace(/\s+/g, ' ').trim())
const address = z.object({
  name: text,
  company: text,
  lines: z
    .array(text)
    .max(8)
    .transform((lines) => lines.filter(Boolean)),
  city: text,
  postcode: text.transform((code) => code.toUpperCase()),
  region: text,
  country: text,
})

export const GET = reading('GET /api/desk/orders/:id/address', z.object({}), (gharry, _query, { id }) =>
  showAddress(gharry, idIn(id)),
)
export const PUT = changing(
  'PUT /api/desk/orders/:id/address',
  z.object({ address: address.nullable() }),
  (gharry, body, { id }) => correctAddress(gharry, idIn(id), body.address),
)
