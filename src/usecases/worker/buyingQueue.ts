import { RateLimiterMemory, RateLimiterQueue } from 'rate-limiter-flexible'
import { carrierConnections, carriersDue, type LabelRow, takeDue } from '@/data'
import { buyLabel } from '../dispatch/buyLabels'
import { purchaseBook } from '../dispatch/purchaseBook'
import { voidLabel } from '../dispatch/voidLabel'
import type { Application } from '../shared/application'
import { guarded } from './guarded'

/** So many labels of one carrier are asked for at once. */
const atOnce = 40

/**
 * Buys and voids what is due: a lane for each carrier, so that one that takes its time, or says nothing, holds up no
 * other. A lane ends when nothing is due in it; `Lanes.start` looks where something is due and no lane runs.
 */
export interface Lanes {
  /** Starts the lanes that are needed; true when there were any. */
  readonly start: () => Promise<boolean>
  /** Until every lane has ended. */
  readonly done: () => Promise<void>
}

/** The lanes of one worker. */
export function buyingLanes(gharry: Application): Lanes {
  const running = new Map<string, Promise<void>>()
  const book = purchaseBook(gharry)
  return {
    start: async () => {
      const due = await carriersDue(gharry.db, gharry.now())
      for (const carrier of due.filter((one) => !running.has(one))) {
        const lane = work(gharry, carrier, book)
          .catch((error: unknown) => gharry.log.error({ carrier, err: error }, 'a lane of buying failed'))
          .finally(() => running.delete(carrier))
        running.set(carrier, lane)
      }
      return due.length > 0
    },
    done: async () => {
      while (running.size > 0) await Promise.all(running.values())
    },
  }
}

async function work(gharry: Application, carrier: string, book: ReturnType<typeof purchaseBook>): Promise<void> {
  const { db, now, settings } = gharry
  const { wait, places } = await paceOf(gharry, carrier)
  const inFlight = new Set<Promise<void>>()
  const begin = (label: LabelRow): void => {
    const one = guarded(gharry, 'labels', label, async () => {
      await wait()
      return label.state === 'voiding' ? voidLabel(gharry, label) : buyLabel(gharry, label, book)
    }).finally(() => inFlight.delete(one))
    inFlight.add(one)
  }
  for (;;) {
    const rows = gharry.stopping?.()
      ? []
      : await takeDue<LabelRow>(
          db,
          'labels',
          { states: ['queued', 'voiding'], carrier },
          now(),
          places - inFlight.size,
          settings.leaseSeconds,
        )
    rows.forEach(begin)
    if (inFlight.size === 0) return
    // New ones are taken when half of the places are free: each taking is a transaction of its own.
    do await Promise.race(inFlight)
    while (inFlight.size > places / 2)
  }
}

const limiters = new WeakMap<object, Map<string, RateLimiterQueue>>()

/**
 * How many labels are asked for at once, and what waits until the carrier may be asked again, where the account says
 * how often.
 */
async function paceOf(
  gharry: Application,
  carrier: string,
): Promise<{ readonly places: number; readonly wait: () => Promise<unknown> }> {
  const accounts = (await carrierConnections(gharry.db)).filter(({ belongsTo, on }) => belongsTo === carrier && on)
  const rates = accounts.flatMap(({ perSecond }) => perSecond ?? [])
  if (rates.length === 0) return { places: atOnce, wait: () => Promise.resolve() }
  const points = Math.min(...rates)
  const known = limiters.get(gharry.db) ?? new Map<string, RateLimiterQueue>()
  limiters.set(gharry.db, known)
  const key = `${carrier} ${points}`
  const limiter = known.get(key) ?? new RateLimiterQueue(new RateLimiterMemory({ points, duration: 1, keyPrefix: key }))
  known.set(key, limiter)
  // No more than a second's worth waits: what waits is held under a lease.
  return { places: Math.min(atOnce, points), wait: () => limiter.removeTokens(1) }
}
