import { carrierConnections, carriersDue, keepLease, type LabelRow, takeDue, takeTurns } from '@/data'
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
  const { places, perSecond } = await paceOf(gharry, carrier)
  const inFlight = new Set<Promise<void>>()
  const begin = (label: LabelRow, waitMs: number): void => {
    const one = guarded(gharry, 'labels', label, async () => {
      await turn(gharry, label, waitMs)
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
    const { first, apart } =
      perSecond === null || rows.length === 0
        ? { first: 0, apart: 0 }
        : await takeTurns(db, `carrier ${carrier}`, rows.length, perSecond, now())
    for (const [i, row] of rows.entries()) begin(row, first + i * apart)
    if (inFlight.size === 0) return
    // New ones are taken when half of the places are free: each taking is a transaction of its own.
    do await Promise.race(inFlight)
    while (inFlight.size > places / 2)
  }
}

/** Waits for a label's turn at its carrier; one that waits for long is still held by whoever waits. */
async function turn({ db, now, settings }: Application, label: LabelRow, waitMs: number): Promise<void> {
  if (waitMs === 0) return
  await new Promise((resolve) => setTimeout(resolve, waitMs))
  if (waitMs > settings.leaseSeconds * 250) await keepLease(db, 'labels', label, now(), settings.leaseSeconds)
}

/**
 * How many labels are asked for at once, and how many a second where the account says so: all workers together.
 */
async function paceOf(
  gharry: Application,
  carrier: string,
): Promise<{ readonly places: number; readonly perSecond: number | null }> {
  const accounts = (await carrierConnections(gharry.db)).filter(({ belongsTo, on }) => belongsTo === carrier && on)
  const rates = accounts.flatMap(({ perSecond }) => perSecond ?? [])
  if (rates.length === 0) return { places: atOnce, perSecond: null }
  const perSecond = Math.min(...rates)
  // No more than a second's worth waits: what waits is held under a lease.
  return { places: Math.min(atOnce, perSecond), perSecond }
}
