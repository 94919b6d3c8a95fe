'use client'
import { useEffect, useRef, useState } from 'react'
import type { Rulebook } from '@/core/rulebook'
import type { TrialMaterial } from '@/usecases/showTrial'
import type { FindingsAnswer, FindingsOrder } from './findings.worker'

/** What the draft's rules mean together, anew at every change; null until it is known. A worker that is still busy with an older draft is let go. */
export function useFindings(draft: Rulebook, material: TrialMaterial | undefined): FindingsAnswer | null {
  const [answer, setAnswer] = useState<FindingsAnswer | null>(null)
  const worker = useRef<Worker | null>(null)
  const busy = useRef(false)
  const run = useRef(0)
  useEffect(() => () => worker.current?.terminate(), [])
  useEffect(() => {
    if (!material) return
    const timer = setTimeout(() => {
      if (busy.current) {
        worker.current?.terminate()
        worker.current = null
      }
      if (!worker.current) {
        worker.current = new Worker(new URL('./findings.worker.ts', import.meta.url), { type: 'module' })
        worker.current.onmessage = ({ data }: MessageEvent<FindingsAnswer>) => {
          if (data.run !== run.current) return
          busy.current = false
          setAnswer(data)
        }
      }
      busy.current = true
      run.current++
      worker.current.postMessage({ run: run.current, draft, world: material.world, inForce: material.inForce, now: Date.now() } satisfies FindingsOrder)
    }, 150)
    return () => clearTimeout(timer)
  }, [draft, material])
  return answer
}
