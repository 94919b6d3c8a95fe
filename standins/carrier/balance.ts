import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { Books } from '../books'

/** What was paid in and not spent yet, where the account is prepaid. */
export interface Prepaid {
  /** Null where it is paid by invoice. */
  readonly set: (minor: number | null) => void
  /** Takes from it where the sum is above 0, and pays back where it is below. */
  readonly charge: (minor: number) => void
  /** By how much it does not reach; 0 when it does, and where nothing is paid in advance. */
  readonly shortOf: (minor: number) => number
}

/** The account that is in the books. */
export function makePrepaid(books: Books): Prepaid {
  const left = (): number | null => books.get<{ minor: number | null }>('prepaid', 'prepaid')?.minor ?? null
  const set = (minor: number | null): void => void books.put('prepaid', 'prepaid', { minor })
  return {
    set,
    charge: (minor) => {
      const now = left()
      if (now !== null) set(now - minor)
    },
    shortOf: (minor) => Math.max(0, minor - (left() ?? Infinity)),
  }
}

interface TopUp {
  minor: number
  currency: string
  at: string
}

/** Paying in, once for a key. */
export function withBalance(app: FastifyInstance, books: Books, prepaid: Prepaid, now: () => string): void {
  app.post('/api/balance', (request) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const { minor, currency } = z
      .object({ minor: z.number().int().positive(), currency: z.string().regex(/^[A-Z]{3}$/) })
      .parse(request.body)
    books.together(() => {
      if (books.get('top-up', key)) return
      books.put('top-up', key, { minor, currency, at: now() } satisfies TopUp)
      prepaid.charge(-minor)
    })
    return { received: true }
  })
  app.get('/api/balance/payments', (request) => {
    const { since } = z.object({ since: z.iso.datetime() }).parse(request.query)
    const paid = books.newest<TopUp>('top-up', 1000)
    return { payments: paid.map(({ id, document }) => ({ key: id, ...document })).filter(({ at }) => at >= since) }
  })
  // From then on labels are paid out of what is there, and refused when it is short.
  app.post('/admin/balance', (request) => {
    const { minor } = z.object({ minor: z.number().int().nullable() }).parse(request.body)
    prepaid.set(minor)
    return { prepaid: minor }
  })
  app.get('/admin/balance', () => books.newest<TopUp>('top-up', 1000).map((row) => row.document))
}
