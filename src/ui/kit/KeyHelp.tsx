'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { Keys } from './KeysDialog'
import { useKeys } from './useKeys'

// Fetched when it is asked for: a dialog is a part of every page's first load otherwise.
const KeysDialog = dynamic(() => import('./KeysDialog').then((module) => module.KeysDialog), { ssr: false })

/** `?`, or the button that is called so, shows the keys of this screen. */
export function KeyHelp({ keys }: { keys: Keys }) {
  const [open, setOpen] = useState<boolean | null>(null)
  useKeys({ '?': () => setOpen(true) })
  return (
    <>
      <button
        aria-label="Keys of this screen"
        title="Keys of this screen   ?"
        className="ml-2 grid size-6 shrink-0 place-items-center rounded-[3px] border border-hair font-mono text-small text-soft hover:text-act"
        onClick={() => setOpen(true)}
      >
        ?
      </button>
      {open !== null && <KeysDialog keys={keys} open={open} onClose={() => setOpen(false)} />}
    </>
  )
}
