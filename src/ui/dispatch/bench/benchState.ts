import { isComplete, judgeScan } from '@/core/bench'
import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import type { Said } from '../Band'

/** A scan that is on its way to the server. */
export interface KeptScan {
  readonly check: number
  readonly key: string
  readonly code: string
  readonly typed: number | null
  readonly at: string
}

/** A parcel of several that are packed at once, with the letter of its place on the bench. */
export interface Placed {
  readonly place: string
  readonly view: BenchView
  readonly counted: readonly number[]
}

/** The places of a bench: nobody packs more at once. */
export const places = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'] as const

/** A bench as its packer sees it. */
export interface BenchState {
  readonly view: BenchView | null
  /** Of each line, what is in the parcel by what was scanned here; the server may know it later. */
  readonly counted: readonly number[]
  /** A wrong item: nothing else counts until it is out. */
  readonly stopped: boolean
  /** A quantity for the next scan. */
  readonly typed: number | null
  readonly kept: readonly KeptScan[]
  readonly said: Said
  /** Several parcels are packed at once: an item goes where it is wanted. */
  readonly several: boolean
  /** The place of the parcel that is shown, and the other parcels that are open. */
  readonly place: string
  readonly others: readonly Placed[]
}

export const emptyBench: BenchState = {
  view: null,
  counted: [],
  stopped: false,
  typed: null,
  kept: [],
  said: { tone: 'idle', words: 'Scan a slip, a label or an item' },
  ...{ several: false, place: places[0], others: [] },
}

/** What is to be done with a text that was scanned or typed. */
export type Step =
  /** A parcel is to be opened. */
  | { readonly do: 'open'; readonly code: string; readonly state?: BenchState }
  | { readonly do: 'show'; readonly state: BenchState }

const isQuantity = (text: string): boolean => /^[1-9]\d{0,3}$/.test(text)
/** A quantity for the next scan. */
const asQuantity = (state: BenchState, code: string): Step => ({
  do: 'show',
  state: { ...state, typed: Number(code), said: { tone: 'ask', words: `${code} ×`, more: 'Scan the item once.' } },
})

/** Whether all that the packer has to do for the open parcel is done, as far as this screen knows. */
export const isFinished = ({ view, counted }: BenchState): boolean =>
  view === null || view.state !== 'open' || (isComplete(view.parcel, counted) && !needsWeight(view))

/** All parcels that are open, by their places. */
export const placedIn = ({ view, place, counted, others }: BenchState): readonly Placed[] =>
  [...others, ...(view ? [{ place, view, counted }] : [])].sort((a, b) => (a.place < b.place ? -1 : 1))

/** With these parcels open: that of a place is shown, or the first; none where there is none. */
function withOpen(state: BenchState, open: readonly Placed[], place = state.place): BenchState {
  const shown = open.find((one) => one.place === place) ?? open[0]
  if (!shown) return { ...state, view: null, counted: [], place: places[0], others: [] }
  return { ...state, ...shown, others: open.filter((one) => one !== shown) }
}

/** Shows another one of the open parcels. */
export const afterTurn = (state: BenchState, place: string): BenchState =>
  state.stopped || state.others.every((one) => one.place !== place) ? state : withOpen(state, placedIn(state), place)

/** Without the parcels that are finished: their places are free. */
const withoutFinished = (state: BenchState): BenchState =>
  withOpen(
    state,
    placedIn(state).filter((one) => !isFinished({ ...state, ...one })),
  )

/**
 * A parcel is gone from the bench, the one that is shown if none is named; then the next one is shown, where there is
 * one.
 */
export function afterGone(state: BenchState, check = state.view?.check): BenchState {
  const open = placedIn(state).filter(({ view }) => view.check !== check)
  return withOpen(state.view?.check === check ? { ...state, stopped: false, typed: null } : state, open)
}

/** Whether the open parcel has to be weighed still. */
export const needsWeight = ({ weighed, weight }: BenchView): boolean => weighed && weight === null

/**
 * What a scan means for a bench, without asking anybody: right and wrong are heard at once, on a line that is down as
 * well.
 * @param key the scan's own, so that one that is sent twice is one
 */
export function afterScan(state: BenchState, text: string, key: string, at: string): Step {
  const code = text.trim()
  const { view, stopped } = state
  if (code === '') return { do: 'show', state }
  if (state.several && view !== null && !stopped) return amongSeveral(withoutFinished(state), code, key, at)
  if (view === null || (isFinished(state) && !stopped)) return { do: 'open', code }
  const said = judgeScan(view.parcel, state.counted, code, state.typed)
  if (stopped) {
    // The parcel's own slip or label says that it is looked at again.
    if (said.verdict === 'own') return { do: 'show', state: afterTakenOut(state) }
    return { do: 'show', state: { ...state, said: { ...state.said, tone: 'wrong' } } }
  }
  if (isQuantity(code) && said.verdict === 'wrong') return asQuantity(state, code)
  const kept = [...state.kept, { check: view.check, key, code, typed: state.typed, at }]
  return { do: 'show', state: judged({ ...state, kept, typed: null }, view, said) }
}

/**
 * What a scan means for several parcels: the first place that wants it gets it. What none of them knows may open
 * another one.
 */
function amongSeveral(state: BenchState, code: string, key: string, at: string): Step {
  if (state.view === null) return { do: 'open', code, state }
  const all = placedIn(state).map((one) => ({
    ...one,
    said: judgeScan(one.view.parcel, one.counted, code, state.typed),
  }))
  const found =
    all.find(({ said }) => said.verdict === 'right') ??
    all.find(({ said }) => said.verdict === 'own') ??
    all.find(({ said }) => said.verdict === 'unreadable' || said.verdict === 'surplus')
  if (!found && isQuantity(code)) return asQuantity(state, code)
  if (!found) {
    if (all.length < places.length) return { do: 'open', code, state }
    const said: Said = { tone: 'ask', words: 'All places are taken', more: 'Finish a parcel first, or put one aside.' }
    return { do: 'show', state: { ...state, said } }
  }
  const turned = afterTurn(state, found.place)
  const kept = [...state.kept, { check: found.view.check, key, code, typed: state.typed, at }]
  const next = judged({ ...turned, kept, typed: null }, found.view, found.said)
  return { do: 'show', state: { ...next, said: { ...next.said, words: `${found.place}: ${next.said.words}` } } }
}

/** A code that is for none of the open parcels, and opens no other one. */
export const afterStranger = (state: BenchState, code: string, key: string, at: string): BenchState => ({
  ...state,
  stopped: true,
  typed: null,
  kept: state.view ? [...state.kept, { check: state.view.check, key, code, typed: null, at }] : state.kept,
  said: {
    ...{ tone: 'wrong', words: 'Belongs in none of these parcels' },
    more: `${code.slice(0, 40)} is for none of ${placedIn(state)
      .map(({ place }) => place)
      .join(', ')}. Take it away.`,
  },
})

function judged(state: BenchState, view: BenchView, said: ReturnType<typeof judgeScan>): BenchState {
  const line = 'line' in said ? view.parcel.lines[said.line]! : null
  switch (said.verdict) {
    case 'right': {
      const counted = state.counted.map((n, i) => (i === said.line ? n + said.pieces : n))
      const next = { ...state, counted }
      if (isFinished(next))
        return { ...next, said: { tone: 'done', words: `${view.number} is complete`, more: finishing(view) } }
      if (isComplete(view.parcel, counted)) return { ...next, said: { tone: 'ask', words: 'All is in it: weigh it' } }
      return {
        ...next,
        said: { tone: 'right', words: line!.title, more: `${counted[said.line]} of ${line!.quantity}` },
      }
    }
    case 'surplus':
      return {
        ...state,
        stopped: true,
        said: {
          tone: 'wrong',
          words: `Too many: ${line!.title}`,
          more: `${line!.quantity} belong in it. Take this one out.`,
        },
      }
    case 'wrong':
      return {
        ...state,
        stopped: true,
        said: {
          tone: 'wrong',
          words: 'Does not belong in this parcel',
          more: `${said.code.slice(0, 40)} is not for ${view.number}. Take it out.`,
        },
      }
    case 'own':
      return { ...state, said: { tone: 'right', words: `${view.number}: this parcel`, more: 'Scan its items.' } }
    case 'unreadable':
      return { ...state, said: { tone: 'ask', words: 'Not read', more: said.why } }
  }
}

const finishing = ({ inserts }: BenchView): string =>
  inserts.length > 0 ? `Put in: ${inserts.join(', ')}. Then close it.` : 'Close it. Scan the next one.'

/** What was wrong is out of the parcel again. */
export const afterTakenOut = (state: BenchState): BenchState => ({
  ...state,
  stopped: false,
  said: { tone: 'idle', words: 'Go on with its items' },
})

/** A parcel that was opened, or what the server says of it: it knows best. */
export function afterView(before: BenchState, view: BenchView, opened = false): BenchState {
  const state = opened ? withRoom(before, view.check) : before
  if (!opened && state.view?.check !== view.check) return { ...state, others: told(state, view) }
  const waiting = state.kept.some(({ check }) => check === view.check)
  const counted = waiting && !opened ? state.counted : view.counted
  const next: BenchState = { ...state, view, counted }
  if (!opened) return next
  const left = view.parcel.lines.reduce((sum, { quantity }, i) => sum + quantity - (counted[i] ?? 0), 0)
  const words = `${view.number}${view.parcel.of > 1 ? `, parcel ${view.parcel.position} of ${view.parcel.of}` : ''}`
  return {
    ...next,
    stopped: false,
    typed: null,
    said: {
      tone: 'right',
      words: state.several ? `${state.place}: ${words}` : words,
      more: left === 1 ? '1 item to scan' : `${left} items to scan`,
    },
  }
}

/** A place for a parcel that is opened: its own where it is open already, else the first free one. */
function withRoom(state: BenchState, check: number): BenchState {
  const open = placedIn(state)
  const known = open.find(({ view }) => view.check === check)
  if (known) return afterTurn({ ...state, stopped: false }, known.place)
  if (!state.several || !state.view) return { ...state, others: [] }
  const place = places.find((one) => open.every((other) => other.place !== one)) ?? places[0]
  return { ...state, view: null, place, others: open }
}

/** What the server says of one of the other parcels. */
const told = ({ others, kept }: BenchState, view: BenchView): readonly Placed[] =>
  others.map((one) => {
    if (one.view.check !== view.check) return one
    const waits = kept.some(({ check }) => check === view.check)
    return { ...one, view, counted: waits ? one.counted : view.counted }
  })
