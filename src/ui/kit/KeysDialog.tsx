'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { singleKeys, useSingleKeys } from './singleKeys'

export type Keys = readonly (readonly [key: string, what: string])[]

/** The keys of a screen, and whether those of one sign do something. */
export function KeysDialog({ keys, open, onClose }: { keys: Keys; open: boolean; onClose: () => void }) {
  const single = useSingleKeys()
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center overflow-auto p-4">
        <DialogPanel className="w-96 max-w-full bg-sheet p-5 shadow-xl">
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
          <label className="mt-4 flex min-h-6 items-center gap-2 border-t border-hair pt-3">
            <input
              type="checkbox"
              checked={single}
              onChange={(event) => singleKeys.set(event.target.checked)}
              className="size-4 accent-(--act)"
            />
            Keys of one sign, such as / and ?, do something
          </label>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
