import type { FastifyReply } from 'fastify'
import { DateTime } from 'luxon'
import { z } from 'zod'
import type { Office } from './office'

/** How a carrier comes for parcels. */
export interface CollectionManners {
  readonly weekdays: readonly number[]
  /** So many days before, and until which hour, it must be asked. */
  readonly daysBefore: number
  readonly until: string
  /** Fewer parcels are not fetched. */
  readonly least: number
  /** `HH:MM` to `HH:MM`, and what it costs in euro cents; 0 where it is free. */
  readonly windows: readonly (readonly [from: string, until: string, cents: number])[]
}

interface Collection {
  confirmation: string
  state: 'booked' | 'cancelled' | 'collected'
  day: string
  from: string
  until: string
  charge: { minor: number; currency: string } | null
  wish: Wish
}

const wished = z.object({
  reference: z.string().min(1),
  day: z.iso.date(),
  from: z.string(),
  until: z.string(),
  country: z.string().length(2),
  postcode: z.string(),
  address: z.array(z.string()).min(1),
  place: z.string(),
  notes: z.string(),
  parcels: z.number().int().min(0),
  pallets: z.number().int().min(0),
  weight: z.number().int().min(0),
})
type Wish = z.infer<typeof wished>
const zones: Readonly<Record<string, string>> = { GB: 'Europe/London', PL: 'Europe/Warsaw', US: 'America/Chicago' }

/** What a carrier says to a wish for a collection. */
function termsOf(manners: CollectionManners, now: () => string) {
  const bookUntil = (day: string, country: string): DateTime =>
    DateTime.fromISO(`${day}T${manners.until}`, { zone: zones[country] ?? 'Europe/Brussels' }).minus({
      days: manners.daysBefore,
    })
  const windowsOf = (day: string): CollectionManners['windows'] =>
    manners.weekdays.includes(DateTime.fromISO(day).weekday) ? manners.windows : []
  const isPast = (day: string, country: string): boolean => DateTime.fromISO(now()) > bookUntil(day, country)
  return {
    bookUntil,
    windowsOf,
    isPast,
    /** Why it is not booked; null where it is. */
    refusal: (wish: Wish): string | null => {
      const windows = windowsOf(wish.day)
      if (windows.length === 0) return `We do not collect on ${wish.day}.`
      if (!windows.some(([from, until]) => from === wish.from && until === wish.until))
        return `We do not collect from ${wish.from} to ${wish.until}.`
      const last = bookUntil(wish.day, wish.country)
      if (isPast(wish.day, wish.country))
        return `Collections for ${wish.day} could be booked until ${last.toFormat('yyyy-MM-dd HH:mm')}.`
      if (wish.parcels + wish.pallets < manners.least)
        return `We come for ${manners.least} parcels or more: ${wish.parcels} were named.`
      return null
    },
    chargeOf: ({ from, until }: { from: string; until: string }): Collection['charge'] => {
      const cents = manners.windows.find(([a, b]) => a === from && b === until)?.[2] ?? 0
      return cents === 0 ? null : { minor: cents, currency: 'EUR' }
    },
  }
}

type Named = { Params: { confirmation: string } }
const keyOf = (key: unknown): string => z.string().min(8).parse(key)
const noSuch = { message: 'There is no such collection.' }

/** The collections that are in the books. */
function diaryOf({ books }: Office) {
  return {
    kept: (confirmation: string): Collection | undefined => books.get<Collection>('collection', confirmation),
    wasDone: (key: string): boolean => books.get('collection key', key) !== undefined,
    /** Does it and notes it, or gives what was done before for the same key. */
    once: (reply: FastifyReply, key: string, work: () => Collection): unknown => {
      const known = books.get<Collection>('collection key', key)
      if (known) return known
      const made = books.together(() => {
        const next = work()
        books.put('collection', next.confirmation, next)
        books.put('collection key', key, next)
        return next
      })
      return reply.code(201).send(made)
    },
  }
}

/** Collections: on what terms, and booked, changed and cancelled until its cut-off. */
export function withCollections(office: Office): void {
  const { app, books, settings, clock, prepaid } = office
  const manners = settings.habits.collections
  const { bookUntil, windowsOf, isPast, refusal, chargeOf } = termsOf(manners, clock.now)
  const { kept, wasDone, once } = diaryOf(office)
  app.get('/api/collections/terms', (request) => {
    const { day, country } = z.object({ day: z.iso.date(), country: z.string().length(2) }).parse(request.query)
    return {
      windows: windowsOf(day).map(([from, until]) => ({ from, until, charge: chargeOf({ from, until }) })),
      bookUntil: bookUntil(day, country).toUTC().toISO(),
      least: manners.least,
    }
  })
  app.post('/api/collections', (request, reply) => {
    const key = keyOf(request.headers['idempotency-key'])
    const wish = wished.parse(request.body)
    const against = wasDone(key) ? null : refusal(wish)
    if (against) return reply.code(422).send({ message: against })
    return once(reply, key, () => {
      const charge = chargeOf(wish)
      prepaid.charge(charge?.minor ?? 0)
      const confirmation = `C${String(310_001 + books.count('collection'))}`
      return { confirmation, state: 'booked', day: wish.day, from: wish.from, until: wish.until, charge, wish }
    })
  })
  app.put<Named>('/api/collections/:confirmation', (request, reply) => {
    const key = keyOf(request.headers['idempotency-key'])
    const before = kept(request.params.confirmation)
    const wish = wished.parse(request.body)
    if (!before) return reply.code(404).send(noSuch)
    if (!wasDone(key)) {
      if (before.state !== 'booked') return reply.code(409).send({ message: `The collection is ${before.state}.` })
      const against = refusal(wish)
      if (against) return reply.code(422).send({ message: against })
    }
    return once(reply, key, () => {
      const charge = chargeOf(wish)
      prepaid.charge((charge?.minor ?? 0) - (before.charge?.minor ?? 0))
      return { ...before, day: wish.day, from: wish.from, until: wish.until, charge, wish }
    })
  })
  app.post<Named>('/api/collections/:confirmation/cancel', (request, reply) => {
    const key = keyOf(request.headers['idempotency-key'])
    const before = kept(request.params.confirmation)
    if (!before) return reply.code(404).send(noSuch)
    if (!wasDone(key)) {
      if (before.state === 'cancelled') return reply.code(409).send({ message: 'The collection is cancelled already.' })
      if (isPast(before.day, before.wish.country))
        return reply.code(409).send({ message: 'The driver is on the way: it cannot be cancelled any more.' })
    }
    return once(reply, key, () => {
      prepaid.charge(-(before.charge?.minor ?? 0))
      return { ...before, state: 'cancelled', charge: null }
    })
  })
  withReadOut(office)
}

/** One collection as it is; and what the carrier changes by itself: another time, or it does not come. */
function withReadOut(office: Office): void {
  const { app, books } = office
  const { kept } = diaryOf(office)
  app.get<Named>(
    '/api/collections/:confirmation',
    ({ params }, reply) => kept(params.confirmation) ?? reply.code(404).send(noSuch),
  )
  app.get('/admin/collections', () => books.newest<Collection>('collection', 10_000).map((row) => row.document))
  app.post<Named>('/admin/collections/:confirmation', (request, reply) => {
    const before = kept(request.params.confirmation)
    if (!before) return reply.code(404).send(noSuch)
    const change = z
      .object({
        state: z.enum(['booked', 'cancelled', 'collected']).optional(),
        from: z.string().optional(),
        until: z.string().optional(),
      })
      .parse(request.body)
    const next = { ...before, ...Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined)) }
    books.put('collection', before.confirmation, next)
    return next
  })
}
