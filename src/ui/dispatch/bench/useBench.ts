'use client'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { BenchOffer } from '@/usecases/dispatch/bench/buyAtBench'
import { call, Refusal, sentenceOf } from '../../kit/api'
import {
  afterGone,
  afterScan,
  afterStranger,
  afterTakenOut,
  afterTurn,
  afterView,
  type BenchState,
  emptyBench,
  isFinished,
  type KeptScan,
} from './benchState'
import type { Said } from '../Band'
import { sound } from '../sounds'

const again = 1000
/** Where a bench keeps what it is at: a reload or a power cut in the middle of a parcel loses no scan. */
const keptAs = (bench: string): string => `gharry.bench.1.${bench}`

function restored(bench: string): BenchState {
  try {
    const text = localStorage.getItem(keptAs(bench))
    return text === null ? emptyBench : { ...emptyBench, ...(JSON.parse(text) as BenchState) }
  } catch {
    return emptyBench
  }
}

/** What a bench can be told, and how it stands. */
export interface Bench {
  readonly state: BenchState
  /** Why scans wait: the server does not answer. */
  readonly offline: boolean
  readonly busy: boolean
  /** Another bench has the parcel of this code. */
  readonly elsewhere: string | null
  readonly scan: (text: string) => void
  readonly takeOver: () => void
  /** The order that was scanned has no label: what it would cost. */
  readonly offer: BenchOffer | null
  readonly buy: () => Promise<void>
  readonly takenOut: () => void
  readonly undo: () => Promise<void>
  readonly weigh: (grams: number, why: string) => Promise<string | null>
  readonly aside: (why: string, short: boolean) => Promise<boolean>
  /** Shows another one of several parcels. */
  readonly turn: (place: string) => void
  /** Packs several parcels at once, or one by one. */
  readonly setSeveral: (several: boolean) => void
}

/** A bench of this browser. */
export function useBench(bench: string): Bench {
  const [state, setState] = useState(() => restored(bench))
  const [offline, setOffline] = useState(false)
  const [busy, setBusy] = useState(false)
  const [elsewhere, setElsewhere] = useState<string | null>(null)
  const [offer, setOffer] = useState<BenchOffer | null>(null)
  const now = useRef(state)
  const put = useCallback(
    (next: BenchState, heard = false): void => {
      now.current = next
      setState(next)
      if (heard) sound(next.said.tone)
      try {
        localStorage.setItem(keptAs(bench), JSON.stringify(next))
      } catch {
        // A browser that keeps nothing: it is kept as long as the page is there.
      }
    },
    [bench],
  )
  const say = useCallback((said: Said): void => put({ ...now.current, said }, true), [put])
  const flush = useFlush(now, put, setOffline, say)

  const open = async (code: string, take = false): Promise<void> => {
    // Among several, an item opens no parcel by itself: it would be a wrong one that nobody hears.
    const items = now.current.view === null || !now.current.several
    setBusy(true)
    setElsewhere(null)
    setOffer(null)
    try {
      // What was scanned before goes first.
      await flush()
      const { view } = await call('POST /api/dispatch/bench', { body: { bench, code, take, items } })
      put(afterView(now.current, view, true), true)
    } catch (error) {
      const why = error instanceof Refusal ? error.code : ''
      // Nor is it passed by while the line is down: then no other parcel can be opened.
      if (!items && (why === 'not-found' || why === '')) {
        put(afterStranger(now.current, code, crypto.randomUUID(), new Date().toISOString()), true)
        return void flush().catch(() => undefined)
      }
      const offered = why === 'nothing-to-buy' ? await offerOf(code) : null
      if (why === 'under-way') setElsewhere(code)
      setOffer(offered)
      // What can be taken over, or bought here, is a question and no mistake.
      const asks = why === 'under-way' || offered !== null
      say({ tone: asks ? 'ask' : 'wrong', words: offered ? 'No label yet' : 'Not opened', more: sentenceOf(error) })
    } finally {
      setBusy(false)
    }
  }
  const told = async (work: () => Promise<{ view: NonNullable<BenchState['view']> }>): Promise<string | null> => {
    try {
      await flush()
      const { view } = await work()
      put(afterView({ ...now.current, kept: [] }, view))
      return null
    } catch (error) {
      sound('ask')
      return sentenceOf(error)
    }
  }
  const check = (): number => now.current.view?.check ?? 0
  return {
    ...{ state, offline, busy, elsewhere, offer },
    buy: async () => {
      if (!offer) return
      setBusy(true)
      try {
        const { view } = await call('POST /api/dispatch/bench/buying', {
          body: { bench, code: offer.number, expected: offer.cost },
        })
        setOffer(null)
        put(afterView(now.current, view, true), true)
      } catch (error) {
        say({ tone: 'ask', words: 'Not bought', more: sentenceOf(error) })
      } finally {
        setBusy(false)
      }
    },
    scan: (text) => {
      const step = afterScan(now.current, text, crypto.randomUUID(), new Date().toISOString())
      if (step.do === 'open') {
        if (step.state) put(step.state)
        return void open(step.code)
      }
      put(step.state, true)
      // Whoever scans does not wait for it: it is tried again by itself.
      flush().catch(() => undefined)
    },
    takeOver: () => elsewhere && void open(elsewhere, true),
    takenOut: () => put(afterTakenOut(now.current)),
    undo: async () => {
      const why = await told(() => call('DELETE /api/dispatch/bench/scans', { body: { check: check() } }))
      if (why === null) put({ ...now.current, stopped: false })
      say(why === null ? { tone: 'idle', words: 'Taken back' } : { tone: 'ask', words: 'Not taken back', more: why })
    },
    weigh: async (grams, why) => {
      const wrong = await told(() => call('PUT /api/dispatch/bench/weight', { body: { check: check(), grams, why } }))
      const { view } = now.current
      if (wrong === null && view && isFinished(now.current))
        say({
          ...{ tone: 'done', more: 'Close it. Scan the next one.' },
          words: `${now.current.several ? `${now.current.place}: ` : ''}${view.number} is complete`,
        })
      return wrong
    },
    aside: async (why, short) => {
      const wrong = await told(() => call('PUT /api/dispatch/bench/aside', { body: { check: check(), why, short } }))
      if (wrong === null)
        put({ ...afterGone(now.current), said: { tone: 'idle', words: 'Put aside. Scan the next one.' } })
      else say({ tone: 'ask', words: 'Not put aside', more: wrong })
      return wrong === null
    },
    turn: (place) => put(afterTurn(now.current, place)),
    setSeveral: (several) => put({ ...now.current, several }),
  }
}

/** What the label of an order would cost; null where it cannot be bought. */
const offerOf = (code: string): Promise<BenchOffer | null> =>
  call('PUT /api/dispatch/bench/buying', { body: { code } }).catch(() => null)

/** Sends what was scanned, in its order, until the server has it; one sending at a time. */
function useFlush(
  now: { current: BenchState },
  put: (next: BenchState) => void,
  setOffline: (offline: boolean) => void,
  say: (said: Said) => void,
): () => Promise<void> {
  const sending = useRef<Promise<void> | null>(null)
  const send = useCallback(async (): Promise<void> => {
    for (let first = now.current.kept[0]; first; first = now.current.kept[0]) {
      const { check } = first
      const part = now.current.kept.filter((scan) => scan.check === check)
      const without = (): readonly KeptScan[] =>
        now.current.kept.filter(({ key }) => !part.some((sent) => sent.key === key))
      try {
        const scans = part.map(({ key, code, typed, at }) => ({ key, code, typed, at }))
        const { view } = await call('POST /api/dispatch/bench/scans', { body: { check, scans } })
        setOffline(false)
        const next = { ...now.current, kept: without() }
        put(afterView(next, view))
      } catch (error) {
        if (!(error instanceof Refusal) || error.passing) {
          setOffline(true)
          throw error
        }
        // What the server refuses is not sent again: the parcel is somebody else's by now.
        put(afterGone({ ...now.current, kept: without() }, check))
        say({ tone: 'wrong', words: 'No longer at this bench', more: sentenceOf(error) })
      }
    }
  }, [now, put, setOffline, say])
  const flush = useCallback((): Promise<void> => {
    sending.current ??= send().finally(() => {
      sending.current = null
    })
    return sending.current
  }, [send])
  useEffect(() => {
    const timer = setInterval(() => {
      if (now.current.kept.length > 0) flush().catch(() => undefined)
    }, again)
    return () => clearInterval(timer)
  }, [flush, now])
  return flush
}
