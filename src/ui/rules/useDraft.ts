'use client'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Finding, Rulebook } from '@/core/rulebook'
import { call, Refusal, sentenceOf } from '../kit/api'

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'conflict'

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

interface History { readonly past: readonly Rulebook[]; readonly now: Rulebook; readonly future: readonly Rulebook[] }

/** The draft on this screen: edits at once, saved in the background against the revision it began from. */
export function useDraft(initial: Rulebook, initialRevision: number, initialFindings: readonly Finding[]): DraftEditor {
  const [history, setHistory] = useState<History>({ past: [], now: initial, future: [] })
  const [findings, setFindings] = useState(initialFindings)
  const [state, setState] = useState<SaveState>('saved')
  const [problem, setProblem] = useState('')
  const revision = useRef(initialRevision)
  const known = useRef(initial)
  const wanted = useRef<Rulebook | null>(null)
  const running = useRef<Promise<void> | null>(null)

  const save = useCallback((): Promise<void> => {
    running.current ??= (async () => {
      while (wanted.current) {
        const next = wanted.current
        wanted.current = null
        setState('saving')
        try {
          const answer = await call<{ revision: number; findings: Finding[] }>('/api/rulebook', { method: 'PUT', body: { rulebook: next, revision: revision.current } })
          revision.current = answer.revision
          setFindings(answer.findings)
          setProblem('')
          setState(wanted.current ? 'unsaved' : 'saved')
        } catch (error) {
          setProblem(sentenceOf(error))
          setState(error instanceof Refusal && error.code === 'draft-changed' ? 'conflict' : 'unsaved')
          wanted.current ??= next
          break
        }
      }
      running.current = null
    })()
    return running.current
  }, [])

  // What changed is saved a moment after the last change, in order.
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => {
    if (history.now === known.current) return
    known.current = history.now
    wanted.current = history.now
    setState('unsaved')
    clearTimeout(timer.current)
    timer.current = setTimeout(() => void save(), 200)
  }, [history.now, save])
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (wanted.current || running.current) event.preventDefault()
    }
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [])

  const change = useCallback((next: (before: Rulebook) => Rulebook) => setHistory((before) => {
    const now = next(before.now)
    return now === before.now ? before : { past: [...before.past.slice(-99), before.now], now, future: [] }
  }), [])
  const undo = useCallback(() => setHistory((before) => {
    const last = before.past[before.past.length - 1]
    return last ? { past: before.past.slice(0, -1), now: last, future: [before.now, ...before.future] } : before
  }), [])
  const redo = useCallback(() => setHistory((before) => {
    const next = before.future[0]
    return next ? { past: [...before.past, before.now], now: next, future: before.future.slice(1) } : before
  }), [])

  return {
    rulebook: history.now, revision: revision.current, findings, state, problem, canUndo: history.past.length > 0, canRedo: history.future.length > 0, change, undo, redo,
    settled: async () => {
      clearTimeout(timer.current)
      await running.current
      await save()
      return wanted.current ? null : revision.current
    },
    replace: (next, nextRevision, nextFindings) => {
      revision.current = nextRevision
      known.current = next
      wanted.current = null
      setHistory((before) => ({ past: [...before.past, before.now], now: next, future: [] }))
      setFindings(nextFindings)
      setProblem('')
      setState('saved')
    },
  }
}
