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

/** The draft on this screen: edits at once, saved in the background against the revision it began from. */
export function useDraft(initial: Rulebook, initialRevision: number, initialFindings: readonly Finding[]): DraftEditor {
  const [rulebook, setRulebook] = useState(initial)
  const [findings, setFindings] = useState(initialFindings)
  const [state, setState] = useState<SaveState>('saved')
  const [problem, setProblem] = useState('')
  const [past, setPast] = useState<readonly Rulebook[]>([])
  const [future, setFuture] = useState<readonly Rulebook[]>([])
  const revision = useRef(initialRevision)
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

  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const put = useCallback((next: Rulebook) => {
    setRulebook(next)
    wanted.current = next
    setState('unsaved')
    clearTimeout(timer.current)
    timer.current = setTimeout(() => void save(), 250)
  }, [save])
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (wanted.current) event.preventDefault()
    }
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [])

  return {
    rulebook, revision: revision.current, findings, state, problem, canUndo: past.length > 0, canRedo: future.length > 0,
    change: (next) => {
      const after = next(rulebook)
      if (after === rulebook) return
      setPast((list) => [...list.slice(-99), rulebook])
      setFuture([])
      put(after)
    },
    undo: () => {
      const before = past[past.length - 1]
      if (!before) return
      setPast(past.slice(0, -1))
      setFuture([rulebook, ...future])
      put(before)
    },
    redo: () => {
      const after = future[0]
      if (!after) return
      setFuture(future.slice(1))
      setPast([...past, rulebook])
      put(after)
    },
    settled: async () => {
      clearTimeout(timer.current)
      await running.current
      await save()
      return wanted.current ? null : revision.current
    },
    replace: (next, nextRevision, nextFindings) => {
      setPast((list) => [...list, rulebook])
      revision.current = nextRevision
      wanted.current = null
      setRulebook(next)
      setFindings(nextFindings)
      setProblem('')
      setState('saved')
    },
  }
}
