import { z } from 'zod'
import { type Grams, schemaOf } from '@/core/units'
import { bookCollection, cancelCollection, replanCollection } from '@/usecases/dispatch/collections/planCollection'
import { showCollections } from '@/usecases/dispatch/collections/showCollections'
import { changing, reading } from '@/app/answer'

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is no time such as 16:30')
const plan = z.strictObject({
  ...{ from: clock, until: clock, place: z.string().max(120), notes: z.string().max(300) },
  ...{ parcels: z.int().min(0), pallets: z.int().min(0), weight: schemaOf<Grams>(z.int().min(0).max(100_000_000)) },
})
const confirmation = z.string().max(60)

export const GET = reading(
  'GET /api/dispatch/collections',
  z.object({ from: z.iso.date().optional() }),
  (gharry, { from }) => showCollections(gharry, from),
)

export const POST = changing(
  'POST /api/dispatch/collections',
  z.strictObject({
    ...{ carrier: z.string().max(64), location: z.string().max(64), day: z.iso.date('is no day') },
    ...{ plan, confirmation, key: z.string().min(8).max(80) },
  }),
  (gharry, body) => bookCollection(gharry, body),
)

export const PUT = changing(
  'PUT /api/dispatch/collections',
  z.strictObject({ id: z.int().positive(), plan, confirmation }),
  (gharry, body) => replanCollection(gharry, body),
)

export const DELETE = changing(
  'DELETE /api/dispatch/collections',
  z.strictObject({ id: z.int().positive() }),
  (gharry, { id }) => cancelCollection(gharry, id),
)
