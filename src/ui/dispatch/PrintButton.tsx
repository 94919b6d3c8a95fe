'use client'
import { useState, type ReactNode } from 'react'
import type { PrintProfile } from '@/usecases/dispatch/printBatch'
import { call } from '../kit/api'
import { useChange } from '../kit/useChange'

/** Has a print file made, and opens it in a tab of its own. One at a time. */
export function PrintButton({
  endpoint,
  id,
  profile,
  className,
  onPrinted,
  children,
}: {
  endpoint:
    | 'POST /api/dispatch/batches/:id/print'
    | 'POST /api/dispatch/batches/:id/picks'
    | 'POST /api/dispatch/labels/:id/print'
    | 'POST /api/dispatch/manifests/:id/print'
    | 'POST /api/dispatch/manifests/:id/containers'
  id: number
  profile: PrintProfile
  className: string
  onPrinted?: () => void
  children: ReactNode
}) {
  const change = useChange()
  const [busy, setBusy] = useState(false)
  const print = async (): Promise<void> => {
    setBusy(true)
    // Opened while the click is fresh, as browsers want it; filled when the file is there.
    const tab = window.open('', '_blank')
    const done = await change(
      () => call(endpoint, { path: { id: String(id) }, body: profile }),
      ({ file }) => {
        if (tab) tab.location.href = file
        else window.location.href = file
        onPrinted?.()
      },
    )
    if (!done) tab?.close()
    setBusy(false)
  }
  return (
    <button type="button" disabled={busy} aria-busy={busy} className={className} onClick={() => void print()}>
      {busy ? 'Making the print file …' : children}
    </button>
  )
}
