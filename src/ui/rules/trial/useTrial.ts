'use client'
import { useQuery } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { TrialSummary } from '@/core/rulebook/change'
import type { Rulebook } from '@/core/rulebook/language'
import type { TrialMaterial } from '@/usecases/rules/trialMaterial'
import { call } from '../../kit/api'
import type { TrialAnswer, TrialOrder } from './trial.worker'

export type TrialResult = Extract<TrialAnswer, { kind: 'result' }>

export interface LiveTrial {
  readonly material: TrialMaterial | undefined
  readonly result: TrialResult | null
  /** Share done of the run under way; null when none is. */
  readonly running: number | null
  /** Asks what another draft would change against this one; the answer stands in `previewed`. Null takes it back. */
  readonly preview: (draft: Rulebook | null) => void
  readonly previewed: TrialSummary | null
  /** Why the run under way stopped, as a sentence; the draft is kept. */
  readonly failed: string | null
}

/** The draft tried on real orders, anew at every change; the page stays free meanwhile. */
export function useTrial(draft: Rulebook, edition: number): LiveTrial {
  const { data: material } = useQuery({
    queryKey: ['trial', edition],
    queryFn: () => call('GET /api/rules/trial'),
    staleTime: 300_000,
    refetchOnWindowFocus: false,
  })
  const worker = useRef<Worker | null>(null)
  const run = useRef(0)
  const [result, setResult] = useState<TrialResult | null>(null)
  const [running, setRunning] = useState<number | null>(null)
  const [ready, setReady] = useState(false)
  const previews = useRef(0)
  const [previewed, setPreviewed] = useState<TrialSummary | null>(null)
  const [failed, setFailed] = useState<string | null>(null)
  useEffect(() => {
    if (!material) return
    const made = new Worker(new URL('./trial.worker.ts', import.meta.url), { type: 'module' })
    made.onmessage = ({ data }: MessageEvent<TrialAnswer>) => {
      setFailed(null)
      if (data.kind === 'preview') {
        if (data.run === previews.current) setPreviewed(data.summary)
        return
      }
      if (data.run !== run.current) return
      if (data.kind === 'progress') setRunning(data.done / data.of)
      else {
        setResult(data)
        setRunning(null)
      }
    }
    made.onerror = ({ message }) => {
      setFailed(
        `The trial stopped on an error in Gharry (${message}). The draft is kept: change it, or load the page again.`,
      )
      setRunning(null)
    }
    made.postMessage({
      kind: 'material',
      cases: material.cases,
      world: material.world,
      inForce: material.inForce,
    } satisfies TrialOrder)
    worker.current = made
    setReady(true)
    return () => {
      made.terminate()
      worker.current = null
      setReady(false)
    }
  }, [material])
  useEffect(() => {
    if (!ready) return
    run.current++
    setRunning(0)
    worker.current?.postMessage({ kind: 'draft', run: run.current, draft } satisfies TrialOrder)
  }, [ready, draft])
  const preview = useCallback((other: Rulebook | null) => {
    previews.current++
    setPreviewed(null)
    if (other)
      worker.current?.postMessage({ kind: 'preview', run: previews.current, draft: other } satisfies TrialOrder)
  }, [])
  return { material, result, running, preview, previewed, failed }
}
