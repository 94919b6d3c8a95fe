'use client'
import { useEffect, useRef } from 'react'
import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import type { BenchDay } from '@/usecases/dispatch/bench/showBench'
import { call } from '../../kit/api'
import { useChange } from '../../kit/useChange'

/** Sends the papers of a label to the printer of a bench; each time that somebody asks is a printing of its own. */
export function usePrint(bench: string): (label: number) => Promise<boolean> {
  const change = useChange(['bench'])
  return (label) =>
    change(() => call('POST /api/dispatch/bench/prints', { body: { bench, label, key: crypto.randomUUID() } }))
}

/**
 * Prints by itself when a parcel is opened, or is complete, where the bench is set so: once for a check, whatever is
 * loaded anew.
 */
export function usePrinting(bench: string, settings: BenchDay['settings'] | undefined, view: BenchView | null): void {
  const change = useChange(['bench'])
  const asked = useRef(new Set<string>())
  const due =
    settings !== undefined &&
    settings.printer !== 'none' &&
    view !== null &&
    // The papers of all parcels come with the first.
    view.parcel.position === 1 &&
    ((settings.prints === 'opened' && view.state === 'open') ||
      (settings.prints === 'checked' && view.state === 'done'))
  const key = due ? `check-${view.check}-${settings.prints}` : null
  const label = view?.label
  useEffect(() => {
    if (key === null || label === undefined || asked.current.has(key)) return
    asked.current.add(key)
    // The key is the check's: a page that is loaded anew asks again, and it is the same printing.
    void change(() => call('POST /api/dispatch/bench/prints', { body: { bench, label, key } }))
  }, [bench, key, label, change])
}
