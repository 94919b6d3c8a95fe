import { z } from 'zod'
import { drawnLabel } from './drawnLabel'
import type { CarrierLabel } from './label'
import type { Office } from './office'
import { priceOf } from './price'
import { type CarrierReturn, returnSerial } from './returns'
import type { Way } from './travel'

const labelRequest = z.object({
  service: z.string(),
  fromCountry: z.string().length(2),
  toCountry: z.string().length(2),
  toPostcode: z.string(),
  from: z.object({ lines: z.array(z.string()).min(2) }),
  to: z.object({ lines: z.array(z.string()).min(2) }),
  parcels: z
    .array(
      z.object({
        weight: z.number().int().positive('must be more than 0 g'),
        size: z.array(z.number().int().positive()).length(3),
        dangerousGoods: z.array(z.string()).optional(),
        notStackable: z.boolean().optional(),
      }),
    )
    .min(1),
  reference: z.string(),
  shipOn: z.iso.date(),
  signature: z.boolean(),
  insured: z.number().int().min(0),
  toCollect: z.number().int().min(0),
  residential: z.boolean(),
  postOfficeBox: z.boolean(),
  notStackable: z.boolean(),
  dangerousGoods: z.array(z.string()),
  duties: z.enum(['DAP', 'DDP']),
  returnLabel: z.boolean().default(false),
  document: z.enum(['pdf', 'zpl']).optional(),
  customs: z
    .array(
      z.object({
        description: z.string(),
        hsCode: z.string(),
        origin: z.string(),
        quantity: z.number().int().positive(),
        netWeight: z.number().int(),
        value: z.object({ minor: z.number().int(), currency: z.string() }),
      }),
    )
    .nullable(),
})
type Asked = z.infer<typeof labelRequest>
type Price = Exclude<ReturnType<typeof priceOf>, string>
interface Refusal {
  readonly status: 402 | 422
  readonly message: string
}

/** Labels are sold, once for a key. */
export function withBuying(office: Office): void {
  const { app, books } = office
  app.post('/api/labels', async (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const before = books.get<{ trackingNumber: string }>('key', key)
    const parsed = labelRequest.safeParse(request.body)
    if (!parsed.success)
      return reply
        .code(422)
        .send({ message: `${parsed.error.issues[0]!.path.join('.')} ${parsed.error.issues[0]!.message}` })
    if (before) return answered(office, books.get<CarrierLabel>('label', before.trackingNumber)!, parsed.data)
    const price = priceFor(office, parsed.data)
    if ('status' in price) return reply.code(price.status).send({ message: price.message })
    return reply.code(201).send(await answered(office, sell(office, parsed.data, key, price), parsed.data))
  })
}

/** What it costs; or why it is not sold. */
function priceFor({ settings, clock, prepaid }: Office, asked: Asked): Price | Refusal {
  const { habits, services, tariffs, homePerUnit } = settings
  const refused = habits.refuses?.(asked, clock.now())
  if (refused) return { status: 422, message: refused }
  const price = priceOf(services, tariffs, asked, homePerUnit)
  if (typeof price === 'string') return { status: 422, message: price }
  if (asked.returnLabel && !services.find(({ id }) => id === asked.service)?.offers.includes('return label'))
    return { status: 422, message: 'This service gives no return labels.' }
  const short = prepaid.shortOf(price.minor)
  return short > 0
    ? { status: 402, message: `The balance is ${(short / 100).toFixed(2)} ${price.currency} short: top it up.` }
    : price
}

/** Writes the label, its parcels and what they cost into the books, all or nothing. */
function sell({ books, settings, clock, prepaid }: Office, asked: Asked, key: string, price: Price): CarrierLabel {
  const { habits } = settings
  const serial = books.count('parcel')
  const back = (i: number): string => habits.number(returnSerial - serial - i, asked.toCountry)
  const parcels = asked.parcels.map((_, i) => ({
    trackingNumber: habits.number(serial + i + 1, asked.fromCountry),
    symbology: habits.symbology,
    routing: `${asked.toCountry}-${asked.toPostcode.replace(/\s/g, '').slice(0, 5)} ${price.zone}`,
    ...(asked.returnLabel ? { returnNumber: back(i) } : {}),
  }))
  const label: CarrierLabel = {
    trackingNumber: parcels[0]!.trackingNumber,
    parcels,
    charged: { minor: price.minor, currency: price.currency },
    key,
    state: 'bought',
    boughtAt: clock.now(),
    shipOn: asked.shipOn,
    released: 0,
    service: asked.service,
    reference: asked.reference,
  }
  const way: Way = { transitDays: price.transitDays, from: asked.fromCountry, to: asked.toCountry }
  books.together(() => {
    books.put('label', label.trackingNumber, label)
    books.put('key', key, { trackingNumber: label.trackingNumber })
    prepaid.charge(price.minor)
    books.put('way', label.trackingNumber, way)
    for (const { trackingNumber, returnNumber } of parcels) {
      books.put('parcel', trackingNumber, { label: label.trackingNumber })
      if (returnNumber === undefined) continue
      // It travels once somebody has dropped it; what it costs is a matter of the invoice.
      books.put('return', returnNumber, {
        ...{ trackingNumber: returnNumber, key: `box-${returnNumber}`, service: label.service, used: null },
        ...{ charged: label.charged, transitDays: price.transitDays, released: 0, droppedAt: null },
      } satisfies CarrierReturn)
      books.put('parcel', returnNumber, { label: '' })
    }
  })
  return label
}

/** What is answered: the label, drawn where that was asked for; drawings are not in the books. */
async function answered(
  { settings, hits }: Office,
  label: CarrierLabel,
  { document, to }: Pick<Asked, 'document' | 'to'>,
): Promise<object> {
  if (!document) return label
  const drawn = (number: string): Promise<object> => drawnLabel(document, settings.name, number, to.lines)
  const garbled = hits('badDrawing')
  return {
    ...label,
    parcels: await Promise.all(
      label.parcels.map(async (parcel) => ({
        ...parcel,
        document: garbled ? { format: document, content: 'bm90aGluZw==' } : await drawn(parcel.trackingNumber),
        ...(parcel.returnNumber ? { returnDocument: await drawn(parcel.returnNumber) } : {}),
      })),
    ),
  }
}
