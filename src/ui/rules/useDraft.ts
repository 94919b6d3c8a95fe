'use client'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Finding } from '@/core/rulebook/findings'
import { equalJson, type Rulebook } from '@/core/rulebook/language'
import { call, Refusal, sentenceOf } from '../kit/api'
import { halfDone, writeHalfDone } from '../kit/halfDone'
import { useBarred } from '../kit/person'
import { useSay } from '../kit/Toast'
import { draftSaver, type SaveState } from './draftSaver'

export interface DraftEditor {
  readonly rulebook: Rulebook
  readonly revision: number
  readonly findings: readonly Finding[]
  readonly state: SaveState
  readonly problem: string
  /** Applies a change; it is saved a moment later, and can be undone. */
  readonly change: (next: (before: Rulebook) => Rulebook) => void
  readonly undo: () => void
  readonly redo: () => void
  readonly canUndo: boolean
  readonly canRedo: boolean
  /** Waits until everything typed is saved; gives the revision, null when it could not be saved. */
  readonly settled: () => Promise<number | null>
  readonly replace: (rulebook: Rulebook, revision: number, findings: readonly Finding[]) => void
}

/** Where the draft is kept while it is not saved. */
const half = 'draft'

interface History {
  readonly past: readonly Rulebook[]
  readonly now: Rulebook
  readonly future: readonly Rulebook[]
}

/** What the draft was and is; whoever may not change it is told so. */
function useHistory(initial: Rulebook) {
  const [history, setHistory] = useState<History>({ past: [], now: initial, future: [] })
  const barred = useBarred()('PUT /api/rules/rulebook')
  const say = useSay()
  const change = useCallback(
    (next: (before: Rulebook) => Rulebook) => {
      if (barred !== null) return say(barred, { tone: 'bad' })
      setHistory((before) => {
        const now = next(before.now)
        return now === before.now ? before : { past: [...before.past.slice(-99), before.now], now, future: [] }
      })
    },
    [barred, say],
  )
  const undo = useCallback(
    () =>
      setHistory((before) => {
        const last = before.past[before.past.length - 1]
        return last ? { past: before.past.slice(0, -1), now: last, future: [before.now, ...before.future] } : before
      }),
    [],
  )
  const redo = useCallback(
    () =>
      setHistory((before) => {
        const next = before.future[0]
        return next ? { past: [...before.past, before.now], now: next, future: before.future.slice(1) } : before
      }),
    [],
  )
  return { history, setHistory, change, undo, redo }
}

/** The draft on this screen: edits at once, saved in the background against the revision it began from. */
export function useDraft(initial: Rulebook, initialRevision: number, initialFindings: readonly Finding[]): DraftEditor {
  const { history, setHistory, change, undo, redo } = useHistory(initial)
  const [findings, setFindings] = useState(initialFindings)
  const [state, setState] = useState<SaveState>('saved')
  const [problem, setProblem] = useState('')
  const known = useRef(initial)
  const [saver] = useState(() =>
    draftSaver(
      initialRevision,
      (rulebook, revision) => call('PUT /api/rules/rulebook', { body: { rulebook, revision } }),
      (error) => ({
        sentence: sentenceOf(error),
        conflict: error instanceof Refusal && error.code === 'draft-changed',
        again: !(error instanceof Refusal) || error.passing,
      }),
      (told) => {
        if (told.state !== undefined) setState(told.state)
        if (told.state === 'saved') writeHalfDone(half, null)
        if (told.problem !== undefined) setProblem(told.problem)
        if (told.findings !== undefined) setFindings(told.findings)
      },
    ),
  )
  useEffect(() => {
    if (history.now === known.current) return
    known.current = history.now
    // Kept in the browser until it is saved: whoever leaves the screen, or loses it, finds it again.
    writeHalfDone(half, { began: String(saver.revision()), value: history.now, at: new Date().toISOString() })
    saver.want(history.now)
  }, [history.now, saver])
  useEffect(() => {
    const kept = halfDone().get(half)
    if (kept && !equalJson(kept.value, initial)) {
      saver.goOnFrom(Number(kept.began), true)
      setHistory({ past: [initial], now: kept.value as Rulebook, future: [] })
    }
    return () => saver.leave()
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the screen is opened
  }, [saver])
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (saver.busy()) event.preventDefault()
    }
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [saver])

  return {
    rulebook: history.now,
    revision: saver.revision(),
    findings,
    state,
    problem,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change,
    undo,
    redo,
    settled: saver.settled,
    replace: (next, nextRevision, nextFindings) => {
      known.current = next
      saver.goOnFrom(nextRevision)
      setHistory((before) => ({ past: [...before.past, before.now], now: next, future: [] }))
      setFindings(nextFindings)
    },
  }
}
