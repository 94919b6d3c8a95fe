'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useState } from 'react'
import { useKeys } from './useKeys'

/** `?` shows the keys of this screen. */
export function KeyHelp({ keys }: { keys: readonly (readonly [key: string, what: string])[] }) {
  const [open, setOpen] = useState(false)
  useKeys({ '?': () => setOpen(true) })
  return (
    <Dialog open={open} onClose={() => setOpen(false)} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="w-96 bg-sheet p-5 shadow-xl">
          <DialogTitle className="text-head">Keys of this screen</DialogTitle>
          <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
            {keys.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="border border-hair bg-tint px-1.5 font-mono text-small">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
