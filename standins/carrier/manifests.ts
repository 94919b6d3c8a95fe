import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { Books } from '../books'
import type { CarrierLabel } from './label'

const note = z.object({
  reference: z.string().min(1).max(60),
  closedAt: z.iso.datetime(),
  country: z.string().length(2),
  postcode: z.string().max(20),
  driver: z.string().max(120),
  parcels: z.array(z.object({ trackingNumber: z.string(), container: z.string() })).min(1),
})

/** Manifests: what a driver got. A parcel is on one of them, and none that is voided or of somebody else. */
export function withManifests(app: FastifyInstance, books: Books, now: () => string): void {
  app.post('/api/manifests', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const before = books.get<{ confirmation: string }>('manifest key', key)
    if (before) return { confirmation: before.confirmation }
    const parsed = note.safeParse(request.body)
    if (!parsed.success) return reply.code(422).send({ message: `${parsed.error.issues[0]!.path.join('.')} is wrong.` })
    const { parcels, reference } = parsed.data
    for (const { trackingNumber } of parcels) {
      const parcel = books.get<{ label: string; manifest?: string }>('parcel', trackingNumber)
      const label = parcel && books.get<CarrierLabel>('label', parcel.label)
      if (!parcel || !label) return reply.code(422).send({ message: `${trackingNumber} is no parcel of ours.` })
      if (label.state === 'voided') return reply.code(422).send({ message: `${trackingNumber} is voided.` })
      if (parcel.manifest)
        return reply.code(409).send({ message: `${trackingNumber} is on manifest ${parcel.manifest} already.` })
    }
    const confirmation = `MF${String(700_001 + books.count('manifest'))}`
    books.together(() => {
      for (const { trackingNumber } of parcels)
        books.put('parcel', trackingNumber, {
          ...books.get<object>('parcel', trackingNumber),
          manifest: reference,
        })
      books.put('manifest', reference, { ...parsed.data, confirmation, at: now() })
      books.put('manifest key', key, { confirmation })
    })
    return reply.code(201).send({ confirmation })
  })
  app.get('/admin/manifests', () => books.newest('manifest', 10_000).map((row) => row.document))
}
