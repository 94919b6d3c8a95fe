'use client'
import { useEffect, useRef, useState } from 'react'
import type { Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import type { TrialMaterial } from '@/usecases/rules/trialMaterial'
import type { FindingsAnswer, FindingsOrder } from './findings.worker'

/**
 * What the draft's rules mean together, anew at every change; null until it is known. The worker leaves what it does
 * for an older draft. While the material is still on its way it rehearses with what the page has (`world` without its
 * tariffs): an engine that has seen the draft answers about it several times as fast.
 */
export function useFindings(draft: Rulebook, world: World, material: TrialMaterial | undefined): FindingsAnswer | null {
  const [answer, setAnswer] = useState<FindingsAnswer | null>(null)
  const asked = useRef<{ draft: Rulebook; world: World }>({ draft, world })
  const worker = useRef<Worker | null>(null)
  const run = useRef(rehearsal)
  useEffect(() => {
    const made = (worker.current = new Worker(new URL('./findings.worker.ts', import.meta.url), { type: 'module' }))
    made.onmessage = ({ data }: MessageEvent<FindingsAnswer>) => {
      if (data.run === run.current && data.run !== rehearsal) setAnswer(data)
    }
    made.postMessage({
      ...asked.current,
      run: rehearsal,
      inForce: asked.current.draft,
      now: thisHour(),
    } satisfies FindingsOrder)
    return () => made.terminate()
  }, [])
  useEffect(() => {
    if (!material) return
    const timer = setTimeout(
      () =>
        worker.current?.postMessage({
          run: ++run.current,
          draft,
          world: material.world,
          inForce: material.inForce,
          now: thisHour(),
        } satisfies FindingsOrder),
      150,
    )
    return () => clearTimeout(timer)
  }, [draft, material])
  return answer
}

const rehearsal = 0

/** Of the same draft the same made-up orders are shown, for a while. */
const thisHour = (): number => Math.floor(Date.now() / 3_600_000) * 3_600_000
