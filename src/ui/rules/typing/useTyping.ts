'use client'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Rulebook } from '@/core/rulebook/language'
import type { Rates } from '@/core/units'
import type { RuleCount, TypingAnswer, TypingOrder } from './typing.worker'

const none: Readonly<Record<string, RuleCount>> = {}

/** How many of all orders of the month each changed rule matches, counted anew at every key. */
export function useTyping(
  draft: Rulebook,
  inForce: Rulebook | undefined,
  rates: Rates,
): Readonly<Record<string, RuleCount>> {
  const { data: bytes } = useQuery({
    queryKey: ['columns'],
    queryFn: async () => {
      const response = await fetch('/api/rules/trial/columns')
      if (!response.ok || !response.body) throw new Error(`columns: ${response.status}`)
      return new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer()
    },
    staleTime: 300_000,
    refetchOnWindowFocus: false,
    retry: 1,
  })
  const worker = useRef<Worker | null>(null)
  const run = useRef(0)
  const [ready, setReady] = useState(false)
  const [counts, setCounts] = useState(none)
  useEffect(() => {
    if (!bytes) return
    const made = new Worker(new URL('./typing.worker.ts', import.meta.url), { type: 'module' })
    made.onmessage = ({ data }: MessageEvent<TypingAnswer>) => {
      if (data.run === run.current) setCounts(data.counts)
    }
    made.postMessage({ kind: 'load', bytes } satisfies TypingOrder)
    worker.current = made
    setReady(true)
    return () => {
      made.terminate()
      worker.current = null
      setReady(false)
    }
  }, [bytes])
  useEffect(() => {
    if (!ready || !inForce) return
    run.current++
    worker.current?.postMessage({ kind: 'count', run: run.current, draft, inForce, rates } satisfies TypingOrder)
  }, [ready, draft, inForce, rates])
  return counts
}
