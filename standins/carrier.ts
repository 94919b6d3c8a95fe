import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { Service, Tariff } from '@/core/rating'
import { drawnLabel } from './drawnLabel'
import { depots } from './depots'
import { withFreightDocuments } from './freight'
import { openBooks, type Books } from './books'
import { withCollections } from './collections'
import { withFaults } from './faults'
import type { Habits } from './habits'
import { card, page, table } from './html'
import { withManifests } from './manifests'
import { type CarrierReturn, releaseReturns, returnSerial, withReturns } from './returns'
import { priceOf } from './price'
import { makeServer } from './server'

export interface CarrierLabel {
  /** Of the first parcel. */
  trackingNumber: string
  parcels: { trackingNumber: string; symbology: 'code128' | 'gs1-128'; routing: string; returnNumber?: string }[]
  charged: { minor: number; currency: string }
  key: string
  state: 'bought' | 'voided'
  boughtAt: string
  /** The day on which it is handed over. */
  shipOn: string
  voidedAt?: string
  released: number
  service: string
  reference: string
}
export interface CarrierEvent {
  id: string
  trackingNumber: string
  at: string
  status: string
  place: string
  text: string
}

export interface CarrierSettings {
  readonly id: string
  readonly name: string
  readonly file: string
  readonly token: string
  readonly services: readonly Service[]
  readonly tariffs: readonly Tariff[]
  readonly habits: Habits
  /** Euros for one unit of a currency. */
  readonly homePerUnit: (currency: string) => number
}

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

const hour = 3_600_000
interface Way {
  transitDays: number
  from?: string
  to?: string
}
const plan = ({
  transitDays,
  from = '',
  to = '',
}: Way): { after: number; status: string; place: string; text: string }[] => [
  { after: 0, status: 'announced', place: '', text: 'The sender has announced the parcel' },
  { after: 6 * hour, status: 'collected', place: depots[from] ?? 'Depot of origin', text: 'Collected from the sender' },
  {
    after: 14 * hour,
    status: 'in transit',
    place: from === to ? 'Sorting centre' : (depots[to] ?? 'Sorting centre'),
    text: 'On its way',
  },
  {
    after: Math.max(1, 24 * transitDays - 4) * hour,
    status: 'out for delivery',
    place: depots[to] ?? 'Depot of destination',
    text: 'With the driver',
  },
  { after: Math.max(5, 24 * transitDays) * hour, status: 'delivered', place: '', text: 'Handed over' },
]

/** A carrier: sells labels by its own tariff, voids them, and reports parcels by a clock that can be set. */
export function carrierStandIn(settings: CarrierSettings): { app: FastifyInstance; books: Books } {
  const app = makeServer()
  const books = openBooks(settings.file)
  const { hits } = withFaults(app, settings.name)
  const clock = makeClock(books)
  const prepaid = makePrepaid(books)
  app.addHook('onRequest', async (request, reply) => {
    if (request.url.startsWith('/api/') && request.headers.authorization !== `Bearer ${settings.token}`)
      return reply.code(401).send({ message: 'The token is wrong.' })
  })

  /** What is answered: the label, drawn where that was asked for; drawings are not in the books. */
  async function answered(label: CarrierLabel, { document, to }: z.infer<typeof labelRequest>): Promise<object> {
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
  app.post('/api/labels', async (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const before = books.get<{ trackingNumber: string }>('key', key)
    const parsed = labelRequest.safeParse(request.body)
    if (!parsed.success)
      return reply
        .code(422)
        .send({ message: `${parsed.error.issues[0]!.path.join('.')} ${parsed.error.issues[0]!.message}` })
    if (before) return answered(books.get<CarrierLabel>('label', before.trackingNumber)!, parsed.data)
    const refused = settings.habits.refuses?.(parsed.data, clock.now())
    if (refused) return reply.code(422).send({ message: refused })
    const priced = priceOf(settings.services, settings.tariffs, parsed.data, settings.homePerUnit)
    if (typeof priced === 'string') return reply.code(422).send({ message: priced })
    if (
      parsed.data.returnLabel &&
      !settings.services.find(({ id }) => id === parsed.data.service)?.offers.includes('return label')
    )
      return reply.code(422).send({ message: 'This service gives no return labels.' })
    const short = prepaid.shortOf(priced.minor)
    if (short > 0)
      return reply
        .code(402)
        .send({ message: `The balance is ${(short / 100).toFixed(2)} ${priced.currency} short: top it up.` })
    const serial = books.count('parcel')
    const back = (i: number): string => settings.habits.number(returnSerial - serial - i, parsed.data.toCountry)
    const parcels = parsed.data.parcels.map((_, i) => ({
      trackingNumber: settings.habits.number(serial + i + 1, parsed.data.fromCountry),
      symbology: settings.habits.symbology,
      routing: `${parsed.data.toCountry}-${parsed.data.toPostcode.replace(/\s/g, '').slice(0, 5)} ${priced.zone}`,
      ...(parsed.data.returnLabel ? { returnNumber: back(i) } : {}),
    }))
    const label: CarrierLabel = {
      trackingNumber: parcels[0]!.trackingNumber,
      parcels,
      charged: { minor: priced.minor, currency: priced.currency },
      key,
      state: 'bought',
      boughtAt: clock.now(),
      shipOn: parsed.data.shipOn,
      released: 0,
      service: parsed.data.service,
      reference: parsed.data.reference,
    }
    books.together(() => {
      books.put('label', label.trackingNumber, label)
      books.put('key', key, { trackingNumber: label.trackingNumber })
      prepaid.add(-priced.minor)
      books.put('way', label.trackingNumber, {
        ...{ transitDays: priced.transitDays, from: parsed.data.fromCountry, to: parsed.data.toCountry },
      } satisfies Way)
      for (const { trackingNumber, returnNumber } of parcels) {
        books.put('parcel', trackingNumber, { label: label.trackingNumber })
        // It travels once somebody has dropped it; what it costs is a matter of the invoice.
        if (returnNumber)
          books.put('return', returnNumber, {
            ...{ trackingNumber: returnNumber, key: `box-${returnNumber}`, service: label.service, used: null },
            ...{ charged: label.charged, transitDays: priced.transitDays, released: 0, droppedAt: null },
          } satisfies CarrierReturn)
        if (returnNumber) books.put('parcel', returnNumber, { label: '' })
      }
    })
    return reply.code(201).send(await answered(label, parsed.data))
  })
  app.get('/api/labels', (request) => {
    const { since, after, limit } = z
      .object({ since: z.iso.datetime(), after: z.string(), limit: z.coerce.number().int().min(1).max(1000) })
      .parse(request.query)
    const all = books
      .newest<CarrierLabel>('label', 200_000)
      .map((row) => row.document)
      .filter((label) => label.boughtAt >= since)
      .sort((a, b) => a.boughtAt.localeCompare(b.boughtAt) || a.trackingNumber.localeCompare(b.trackingNumber))
    const from = Number(after) || 0
    return { labels: all.slice(from, from + limit), cursor: String(from + limit), more: all.length > from + limit }
  })
  app.post('/api/labels/void', (request, reply) => {
    const { trackingNumber } = z.object({ trackingNumber: z.string() }).parse(request.body)
    const label = books.get<CarrierLabel>('label', trackingNumber)
    if (!label) return reply.code(404).send({ message: 'There is no such label.' })
    // Asked once more, as the first answer was lost: it is voided, whatever time it is by now.
    if (label.state === 'voided') return { refund: 'pending' }
    if (label.released > 1) return reply.code(409).send({ message: 'The parcel has been collected.' })
    const kept = settings.habits.keeps?.(label, clock.now())
    if (kept) return reply.code(409).send({ message: kept })
    books.together(() => {
      books.put('label', trackingNumber, { ...label, state: 'voided', voidedAt: clock.now() })
      prepaid.add(label.charged.minor)
    })
    return { refund: 'pending' }
  })
  // Asked for, a refund is granted once its days are over; some labels are not paid back.
  app.post('/api/labels/refund', (request, reply) => {
    const { trackingNumber } = z.object({ trackingNumber: z.string() }).parse(request.body)
    const label = books.get<CarrierLabel>('label', trackingNumber)
    if (!label) return reply.code(404).send({ message: 'There is no such label.' })
    if (label.state !== 'voided') return reply.code(409).send({ message: 'The label is not voided.' })
    const against = settings.habits.keepsMoney?.(label)
    if (against) return { state: 'refused', amount: null, message: against }
    const days = (Date.parse(clock.now()) - Date.parse(label.voidedAt ?? label.boughtAt)) / (24 * hour)
    return days < settings.habits.refundDays
      ? { state: 'pending', amount: null, message: `Refunds take ${settings.habits.refundDays} days.` }
      : { state: 'granted', amount: label.charged, message: '' }
  })
  app.post('/api/balance', (request) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const { minor, currency } = z
      .object({ minor: z.number().int().positive(), currency: z.string().regex(/^[A-Z]{3}$/) })
      .parse(request.body)
    books.together(() => {
      if (books.get('top-up', key)) return
      books.put('top-up', key, { minor, currency, at: clock.now() })
      prepaid.add(minor)
    })
    return { received: true }
  })
  app.get('/api/balance/payments', (request) => {
    const { since } = z.object({ since: z.iso.datetime() }).parse(request.query)
    const paid = books.newest<{ minor: number; currency: string; at: string }>('top-up', 1000)
    return { payments: paid.map(({ id, document }) => ({ key: id, ...document })).filter(({ at }) => at >= since) }
  })
  // From then on labels are paid out of what is there, and refused when it is short.
  app.post('/admin/balance', (request) => {
    const { minor } = z.object({ minor: z.number().int().nullable() }).parse(request.body)
    prepaid.set(minor)
    return { prepaid: minor }
  })
  app.get('/admin/balance', () =>
    books.newest<{ minor: number; currency: string; at: string }>('top-up', 1000).map((row) => row.document),
  )
  app.get('/api/services', () => ({
    services: settings.services.map((service) => ({ ...service, locations: [], collections: undefined })),
    tariffs: settings.tariffs.filter(({ service }) => settings.services.some(({ id }) => id === service)),
  }))
  app.get('/api/events', (request) => {
    const { after, limit } = z
      .object({ after: z.string().default(''), limit: z.coerce.number().int().min(1).max(1000).default(200) })
      .parse(request.query)
    releaseEvents(books, clock.now())
    releaseReturns(books, clock.now(), (minor) => prepaid.add(-minor))
    const rows = books.changedAfter<CarrierEvent>('event', Number(after) || 0, limit + 1)
    const some = rows.slice(0, limit)
    const events = some.map((row) => row.document)
    return {
      events: hits('twice') ? [...events, ...events] : events,
      cursor: String(some[some.length - 1]?.seq ?? (Number(after) || 0)),
      more: rows.length > limit,
    }
  })

  app.get('/admin/labels', () => books.newest<CarrierLabel>('label', 200_000).map((row) => row.document))
  app.post('/admin/labels', (request) => {
    const labels = request.body as (CarrierLabel & { transitDays?: number })[]
    books.together(() =>
      labels.forEach(({ transitDays, ...label }) => {
        if (transitDays !== undefined) books.put('way', label.trackingNumber, { transitDays })
        books.put('label', label.trackingNumber, label)
        books.put('key', label.key, { trackingNumber: label.trackingNumber })
        for (const { trackingNumber } of label.parcels)
          books.put('parcel', trackingNumber, { label: label.trackingNumber })
      }),
    )
    return { stored: labels.length }
  })
  // Something else happens to a parcel; with "astray" nothing comes of itself any more.
  app.post('/admin/events', (request, reply) => {
    const { astray, ...event } = z
      .object({
        trackingNumber: z.string(),
        status: z.string(),
        place: z.string().default(''),
        text: z.string().default(''),
        at: z.string().optional(),
        id: z.string().optional(),
        astray: z.boolean().default(false),
      })
      .parse(request.body)
    if (!books.get('parcel', event.trackingNumber)) return reply.code(404).send({ message: 'There is no such parcel.' })
    if (astray) books.put('astray', event.trackingNumber, {})
    const id = event.id ?? `${event.trackingNumber}-x${books.count('event')}`
    books.put('event', id, { ...event, id, at: event.at ?? clock.now() } satisfies CarrierEvent)
    return { id }
  })
  app.get('/admin/clock', () => ({ now: clock.now(), speed: clock.speed() }))
  app.post('/admin/clock', (request, reply) => {
    const { speed, days } = z
      .object({
        speed: z.coerce.number().min(0).max(100_000).optional(),
        days: z.coerce.number().min(0).max(60).optional(),
      })
      .parse(request.body)
    clock.set(speed ?? clock.speed(), (days ?? 0) * 24 * hour)
    return String(request.headers['content-type']).includes('urlencoded')
      ? reply.redirect('/')
      : { now: clock.now(), speed: clock.speed() }
  })
  app.get('/', (_request, reply) => {
    const rows = books
      .newest<CarrierLabel>('label', 50)
      .map(({ document }) => [
        document.parcels.map((parcel) => parcel.trackingNumber).join(' '),
        document.service,
        document.reference,
        `${(document.charged.minor / 100).toFixed(2)} ${document.charged.currency}`,
        document.state,
      ])
    return reply
      .type('text/html')
      .send(
        page(
          settings.name,
          card(
            'Clock',
            `<p id="clock">${clock.now()} · ${clock.speed()} times as fast</p><form method="post" action="/admin/clock" style="display:inline"><input type="hidden" name="days" value="1"><button>Next day</button></form> <form method="post" action="/admin/clock" style="display:inline"><label style="display:inline">Speed <input name="speed" type="number" min="0" value="${clock.speed()}"></label> <button>Set</button></form>`,
          ) +
            card(
              `Labels (${books.count('label')})`,
              table(['Number', 'Service', 'Reference', 'Charged', 'State'], rows),
            ) +
            '<nav><a href="/admin">Switches and read-out</a></nav>',
        ),
      )
  })
  withReturns(app, books, settings, clock.now, (minor) => prepaid.add(-minor))
  withManifests(app, books, clock.now)
  withCollections(app, books, settings.habits.collections, clock.now, (minor) => prepaid.add(-minor))
  withFreightDocuments(app, settings.token)
  app.addHook('onClose', () => books.close())
  return { app, books }
}

/** What was paid in and not spent yet, where the account is prepaid; null where it is paid by invoice. */
function makePrepaid(books: Books) {
  const left = (): number | null => books.get<{ minor: number | null }>('prepaid', 'prepaid')?.minor ?? null
  const set = (minor: number | null): void => void books.put('prepaid', 'prepaid', { minor })
  return {
    set,
    add: (minor: number): void => {
      const now = left()
      if (now !== null) set(now + minor)
    },
    /** By how much it does not reach; 0 when it does, and where nothing is paid in advance. */
    shortOf: (minor: number): number => Math.max(0, minor - (left() ?? Infinity)),
  }
}

interface Clock {
  now: () => string
  speed: () => number
  set: (speed: number, ahead: number) => void
}

function makeClock(books: Books): Clock {
  const kept = books.get<{ ahead: number; speed: number; since: number }>('clock', 'clock') ?? {
    ahead: 0,
    speed: 1,
    since: Date.now(),
  }
  let { ahead, speed, since } = kept
  const ms = (): number => Date.now() + ahead + (Date.now() - since) * (speed - 1)
  return {
    now: () => new Date(ms()).toISOString(),
    speed: () => speed,
    set: (nextSpeed, jump) => {
      ahead = ms() - Date.now() + jump
      since = Date.now()
      speed = nextSpeed
      books.put('clock', 'clock', { ahead, speed, since })
    },
  }
}

/** Lets every event happen whose time has come. */
function releaseEvents(books: Books, now: string): void {
  books.together(() => {
    for (const { document: label } of books.newest<CarrierLabel>('label', 5000)) {
      const way = books.get<Way>('way', label.trackingNumber)
      if (!way || label.state === 'voided') continue
      const steps = plan(way)
      let { released } = label
      while (released < steps.length && Date.parse(label.boughtAt) + steps[released]!.after <= Date.parse(now)) {
        const step = steps[released]!
        for (const { trackingNumber } of label.parcels) {
          // What happened to it otherwise, its own news say.
          if (books.get('astray', trackingNumber)) continue
          const id = `${trackingNumber}-${released}`
          books.put('event', id, {
            id,
            trackingNumber,
            at: new Date(Date.parse(label.boughtAt) + step.after).toISOString(),
            status: step.status,
            place: step.place,
            text: step.text,
          } satisfies CarrierEvent)
        }
        released++
      }
      if (released !== label.released) books.put('label', label.trackingNumber, { ...label, released })
    }
  })
}
