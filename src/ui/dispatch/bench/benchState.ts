import { isComplete, judgeScan } from '@/core/bench'
import type { BenchView } from '@/usecases/dispatch/bench/benchView'

/** A scan that is on its way to the server. */
export interface KeptScan {
  readonly check: number
  readonly key: string
  readonly code: string
  readonly typed: number | null
  readonly at: string
}

/** What the bench says last: how it sounds and looks, and in which words. */
export interface Said {
  readonly tone: 'idle' | 'right' | 'done' | 'wrong' | 'ask'
  readonly words: string
  readonly more?: string
}

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
}

export const emptyBench: BenchState = {
  view: null,
  counted: [],
  stopped: false,
  typed: null,
  kept: [],
  said: { tone: 'idle', words: 'Scan a slip, a label or an item' },
}

/** What is to be done with a text that was scanned or typed. */
export type Step =
  /** A parcel is to be opened. */
  { readonly do: 'open'; readonly code: string } | { readonly do: 'show'; readonly state: BenchState }

const isQuantity = (text: string): boolean => /^[1-9]\d{0,3}$/.test(text)

/** Whether all that the packer has to do for the open parcel is done, as far as this screen knows. */
export const isFinished = ({ view, counted }: BenchState): boolean =>
  view === null || view.state !== 'open' || (isComplete(view.parcel, counted) && !needsWeight(view))

/** Whether the open parcel has to be weighed still. */
export const needsWeight = ({ weighed, weight }: BenchView): boolean => weighed && weight === null

/**
 * What a scan means for a bench, without asking anybody: right and wrong are heard at once, on a line that is down as well.
 * @param key the scan's own, so that one that is sent twice is one
 */
export function afterScan(state: BenchState, text: string, key: string, at: string): Step {
  const code = text.trim()
  const { view, stopped } = state
  if (code === '') return { do: 'show', state }
  if (view === null || (isFinished(state) && !stopped)) return { do: 'open', code }
  const said = judgeScan(view.parcel, state.counted, code, state.typed)
  if (stopped) {
    // The parcel's own slip or label says that it is looked at again.
    if (said.verdict === 'own') return { do: 'show', state: afterTakenOut(state) }
    return { do: 'show', state: { ...state, said: { ...state.said, tone: 'wrong' } } }
  }
  if (isQuantity(code) && said.verdict === 'wrong')
    return {
      do: 'show',
      state: { ...state, typed: Number(code), said: { tone: 'ask', words: `${code} ×`, more: 'Scan the item once.' } },
    }
  const kept = [...state.kept, { check: view.check, key, code, typed: state.typed, at }]
  return { do: 'show', state: judged({ ...state, kept, typed: null }, view, said) }
}

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
export function afterView(state: BenchState, view: BenchView, opened = false): BenchState {
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
    said: { tone: 'right', words, more: left === 1 ? '1 item to scan' : `${left} items to scan` },
  }
}
