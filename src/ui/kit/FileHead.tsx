'use client'
import { useState } from 'react'
import { Button } from './Button'

/** Above what a file would change: its name, what it comes to, and whether it is taken. */
export function FileHead({
  file,
  about,
  onTake,
  onCancel,
}: {
  file: File
  about: string
  /** Null where there is nothing to be taken. */
  onTake: (() => Promise<void>) | null
  onCancel: () => void
}) {
  const [busy, setBusy] = useState(false)
  return (
    <p className="flex items-center gap-3 py-3">
      <b className="font-semibold">{file.name}</b>
      <span className="text-soft">{about}</span>
      <span className="ml-auto flex gap-2">
        <Button onClick={onCancel}>Put it away</Button>
        {onTake && (
          <Button
            kind="filled"
            disabled={busy}
            onClick={() => {
              setBusy(true)
              void onTake().finally(() => setBusy(false))
            }}
          >
            Take it
          </Button>
        )}
      </span>
    </p>
  )
}
