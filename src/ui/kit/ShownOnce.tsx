'use client'
import { Button } from './Button'

/** Something secret that is shown this once. */
export function ShownOnce({ what, secret, onDone }: { what: string; secret: string; onDone: () => void }) {
  return (
    <div role="status" className="mt-3 max-w-3xl bg-wait-soft p-3">
      <p>{what} It is shown this once, and kept nowhere: put it where it is used now.</p>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <code className="border border-hair bg-sheet px-2 py-1 font-mono text-small break-all select-all">
          {secret}
        </code>
        <Button onClick={() => navigator.clipboard.writeText(secret)}>Copy</Button>
        <Button kind="quiet" onClick={onDone}>
          I have it
        </Button>
      </p>
    </div>
  )
}
