import { z } from 'zod'
import type { Books } from '../books'
import { hour } from './clock'
import { drawnLabel } from './drawnLabel'
import type { CarrierEvent } from './label'
import type { Office } from './office'
import { priceOf } from './price'

/** A label with which a buyer sends something back. Nothing is charged until it is used. */
export interface CarrierReturn {
  trackingNumber: string
  key: string
  service: string
  charged: { minor: number; currency: string }
  transitDays: number
  droppedAt: string | null
  released: number
  /** When it was charged; null while it was not used. */
  used: string | null
}

/** Numbers of returns are taken from the far end, so that they never meet those of parcels. */
export const returnSerial = 69_999_999

const validDays = 30
const address = z.object({ lines: z.array(z.string()).min(2) })
const returnRequest = z.object({
  service: z.string(),
  from: address,
  fromCountry: z.string().length(2),
  fromPostcode: z.string(),
  to: address,
  toCountry: z.string().length(2),
  toPostcode: z.string(),
  weight: z.number().int().positive('must be more than 0 g'),
  size: z.array(z.number().int().positive()).length(3),
  dangerousGoods: z.array(z.string()),
  reference: z.string(),
  document: z.enum(['pdf', 'zpl']).optional(),
  customs: z.array(z.object({ description: z.string() }).loose()).nullable(),
})

/** Return labels: asked for one by one, and dropped at a counter by whoever has them. */
export function withReturns(office: Office): void {
  const { app, books, settings, clock, prepaid } = office
  app.post('/api/returns', async (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const parsed = returnRequest.safeParse(request.body)
    if (!parsed.success)
      return reply
        .code(422)
        .send({ message: `${parsed.error.issues[0]!.path.join('.')} ${parsed.error.issues[0]!.message}` })
    const asked = parsed.data
    const price = priceBack(office, asked)
    if (typeof price === 'string') return reply.code(422).send({ message: price })
    const known = books.get<{ trackingNumber: string }>('return key', key)
    const made = (known && books.get<CarrierReturn>('return', known.trackingNumber)) ?? {
      ...{
        trackingNumber: settings.habits.number(returnSerial - 100_000 - books.count('return'), asked.fromCountry),
        key,
      },
      ...{ service: asked.service, charged: { minor: price.minor, currency: price.currency } },
      ...{ transitDays: price.transitDays, droppedAt: null, released: 0, used: null },
    }
    books.together(() => {
      books.put('return', made.trackingNumber, made)
      books.put('return key', key, { trackingNumber: made.trackingNumber })
      books.put('parcel', made.trackingNumber, { label: '' })
    })
    return reply.code(201).send({
      ...{ trackingNumber: made.trackingNumber, symbology: settings.habits.symbology, charged: made.charged },
      routing: `${asked.toCountry}-${asked.toPostcode.replace(/\s/g, '').slice(0, 5)} RETURN`,
      code: settings.habits.returnCodes ? made.trackingNumber.slice(-8) : '',
      validUntil: new Date(Date.parse(clock.now()) + validDays * 24 * hour).toISOString().slice(0, 10),
      ...(asked.document
        ? { document: await drawnLabel(asked.document, settings.name, made.trackingNumber, asked.to.lines) }
        : {}),
    })
  })
  app.get('/admin/returns', () => books.newest<CarrierReturn>('return', 10_000).map(({ document }) => document))
  // The buyer has brought it to a counter.
  app.post('/admin/returns/drop', (request, reply) => {
    const { trackingNumber } = z.object({ trackingNumber: z.string() }).parse(request.body)
    const dropped = books.get<CarrierReturn>('return', trackingNumber)
    if (!dropped) return reply.code(404).send({ message: 'There is no such return label.' })
    if (dropped.droppedAt === null)
      books.together(() => {
        books.put('return', trackingNumber, { ...dropped, droppedAt: clock.now() })
        books.put('dropped', trackingNumber, {})
      })
    releaseReturns(books, clock.now(), prepaid.charge)
    return {}
  })
}

/** The way back costs what the way there costs; or why there is none. */
function priceBack({ settings, clock }: Office, asked: z.infer<typeof returnRequest>): ReturnType<typeof priceOf> {
  const { services, tariffs, homePerUnit } = settings
  if (!services.find(({ id }) => id === asked.service)?.offers.includes('return label'))
    return 'This service gives no return labels.'
  return priceOf(
    services,
    tariffs,
    {
      ...{ service: asked.service, fromCountry: asked.toCountry, toCountry: asked.fromCountry },
      ...{ toPostcode: asked.fromPostcode, shipOn: clock.now().slice(0, 10) },
      parcels: [{ weight: asked.weight, size: asked.size }],
      ...{ signature: false, insured: 0, toCollect: 0, residential: false, postOfficeBox: false },
      ...{ notStackable: false, dangerousGoods: asked.dangerousGoods, duties: 'DAP' },
    },
    homePerUnit,
  )
}

const plan = (days: number): readonly { after: number; status: string; place: string; text: string }[] => [
  { after: 0, status: 'collected', place: 'Counter', text: 'Brought to a counter' },
  { after: 8 * hour, status: 'in transit', place: 'Sorting centre', text: 'On its way back' },
  { after: Math.max(5, 24 * days) * hour, status: 'delivered', place: '', text: 'Handed over to the sender' },
]

/** Lets what was dropped travel, and charges it once. */
export function releaseReturns(books: Books, now: string, charge: (minor: number) => void): void {
  books.together(() => {
    for (const { id: number } of books.newest('dropped', 2000)) {
      const one = books.get<CarrierReturn>('return', number)
      if (!one || one.droppedAt === null) continue
      const steps = plan(one.transitDays)
      let { released } = one
      while (released < steps.length && Date.parse(one.droppedAt) + steps[released]!.after <= Date.parse(now)) {
        const { after, ...step } = steps[released]!
        const id = `${one.trackingNumber}-b${released}`
        const at = new Date(Date.parse(one.droppedAt) + after).toISOString()
        books.put('event', id, { id, trackingNumber: one.trackingNumber, at, ...step } satisfies CarrierEvent)
        released++
      }
      if (one.used === null) charge(one.charged.minor)
      if (released !== one.released || one.used === null)
        books.put('return', one.trackingNumber, { ...one, released, used: one.used ?? now })
    }
  })
}
