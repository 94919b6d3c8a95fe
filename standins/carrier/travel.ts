import { z } from 'zod'
import type { Books } from '../books'
import { changesOf } from '../changes'
import { hour } from './clock'
import { depots } from './depots'
import type { CarrierEvent, CarrierLabel } from './label'
import type { Office } from './office'
import { releaseReturns } from './returns'

/** Between which countries a parcel travels, and for how long. */
export interface Way {
  transitDays: number
  from?: string
  to?: string
}
/** A step of the way, so many milliseconds after the label was bought. */
interface Step {
  readonly after: number
  readonly status: string
  readonly place: string
  readonly text: string
}
const plan = ({ transitDays, from = '', to = '' }: Way): readonly Step[] => [
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

/** News of parcels, as the clock brings them. */
export function withEvents({ app, books, clock, prepaid, hits }: Office): void {
  app.get('/api/events', (request) => {
    const { after, limit } = z
      .object({ after: z.string().default(''), limit: z.coerce.number().int().min(1).max(1000).default(200) })
      .parse(request.query)
    releaseEvents(books, clock.now())
    releaseReturns(books, clock.now(), prepaid.charge)
    const { documents, last, more } = changesOf<CarrierEvent>(books, hits, 'event', Number(after) || 0, limit)
    return { events: documents, cursor: String(last), more }
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
        happen(books, label, released, steps[released]!)
        released++
      }
      if (released !== label.released) books.put('label', label.trackingNumber, { ...label, released })
    }
  })
}

function happen(books: Books, label: CarrierLabel, which: number, { after, ...step }: Step): void {
  for (const { trackingNumber } of label.parcels) {
    // What happened to it otherwise, its own news say.
    if (books.get('astray', trackingNumber)) continue
    const id = `${trackingNumber}-${which}`
    const at = new Date(Date.parse(label.boughtAt) + after).toISOString()
    books.put('event', id, { id, trackingNumber, at, ...step } satisfies CarrierEvent)
  }
}
