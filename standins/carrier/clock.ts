import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import type { Books } from '../books'

/** A carrier's own clock: it can be set ahead, and made to run faster. */
export interface Clock {
  readonly now: () => string
  readonly speed: () => number
  readonly set: (speed: number, ahead: number) => void
}

export const hour = 3_600_000

/** The clock that is in the books; as the machine's where nobody has set it. */
export function makeClock(books: Books): Clock {
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

/** Tests and the page of the carrier set it. */
export function withClock(app: FastifyInstance, clock: Clock): void {
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
}
