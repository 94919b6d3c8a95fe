import type { RawOrder } from '@/core/order'
import { chunks, findKnown, fromJson, openDatabase } from '@/data'
import type { Application } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'
import { beginThread, serveThread, type Thread, type ThreadBegin } from '../shared/thread'
import { decidedOf, isOf, lastOfEach, type Ready, readyOrders } from './readyOrders'

interface Wish {
  readonly channel: string
  /** JSON: it is read faster than objects are passed on. */
  readonly raw: string
  readonly now: number
}

/** Makes orders ready in a thread of its own, while what was made before is written. */
export interface OrderThread {
  readonly ready: (channel: string, raw: readonly RawOrder[], now: Date) => Promise<Ready | null>
  readonly end: () => Promise<void>
}

/** So few at a time that what is made on the way is gone before it counts as old. */
const atOnce = 100

/** Idle for so long, it is ended: its memory is of more use elsewhere. */
const idleMs = 60_000

/** A thread that is begun when it is needed. `script` is a program that calls `serveOrders` when it is not the main one. */
export function orderThread(script: URL, books: string): OrderThread {
  let thread: Thread | null = null
  let timer: NodeJS.Timeout | undefined
  const end = async (): Promise<void> => {
    clearTimeout(timer)
    const ending = thread
    thread = null
    await ending?.end()
  }
  return {
    end,
    ready: async (channel, raw, now) => {
      clearTimeout(timer)
      const asked = (thread ??= beginThread(script, { serves: 'orders', books }))
      const ask = (part: readonly RawOrder[]): Promise<unknown> =>
        asked.ask({ channel, raw: JSON.stringify(part), now: now.getTime() } satisfies Wish)
      try {
        return together((await Promise.all(chunks(raw, atOnce).map(ask))) as (Ready | null)[])
      } catch (error) {
        // It may have ended: the next one is asked of a new thread.
        if (thread === asked) await end()
        throw error
      } finally {
        clearTimeout(timer)
        timer = setTimeout(() => void end(), idleMs).unref()
      }
    },
  }
}

/** All parts as one; null where they were not made by the same, or not at all. */
function together(parts: readonly (Ready | null)[]): Ready | null {
  const [first] = parts
  if (!first || !parts.every((part) => part !== null && isOf(part, first))) return null
  return { ...first, orders: lastOfEach(parts.flatMap((part) => part?.orders ?? [])) }
}

/** The other end. Null where no rulebook is published. */
export async function serveOrders({ books }: Extract<ThreadBegin, { serves: 'orders' }>): Promise<void> {
  const db = await openDatabase(books)
  serveThread(async (wish): Promise<Ready | null> => {
    const { channel, raw, now: moment } = wish as Wish
    const now = new Date(moment)
    const inForce = await rulebookInForce({ db, now: () => now })
    if (!inForce) return null
    const ready = readyOrders(fromJson<RawOrder[]>(raw), channel, inForce)
    const known = await findKnown(
      db,
      channel,
      ready.map(({ remoteId }) => remoteId),
    )
    const { edition, worldVersion, outages } = inForce
    return {
      ...{ edition, worldVersion, outages },
      orders: ready.map((one) => ({
        ...one,
        order: undefined,
        ...(known.has(one.remoteId) ? {} : { decided: decidedOf(one, inForce, now) }),
      })),
    }
  })
}

/** Fewer are made ready sooner by the own thread. */
const worthIt = 50

/** Orders made ready beside the own thread, where there is another and they are many; what fails there is done here. */
export async function makeReady(
  { orderThread: thread, now, log }: Application,
  channel: string,
  raw: readonly RawOrder[],
): Promise<Ready | null> {
  if (!thread || raw.length < worthIt) return null
  try {
    return await thread.ready(channel, raw, now())
  } catch (error) {
    log.warn({ err: error, channel }, 'orders are made ready without another thread')
    return null
  }
}
