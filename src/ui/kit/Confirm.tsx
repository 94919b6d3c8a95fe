'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useState, type ReactNode } from 'react'
import { Button } from './Button'

/** A question before something paid or destructive; it states the amount and the count. */
export function Confirm({
  open,
  title,
  children,
  action,
  danger = false,
  busy = false,
  onConfirm,
  onClose,
}: {
  open: boolean
  title: string
  children: ReactNode
  action: string
  danger?: boolean
  busy?: boolean
  /** The question stays until this is settled, and takes no second answer. */
  onConfirm: () => unknown
  onClose: () => void
}) {
  const [under, setUnder] = useState(false)
  const waits = busy || under
  const close = (): void => {
    if (!under) onClose()
  }
  const confirm = async (): Promise<void> => {
    setUnder(true)
    try {
      await onConfirm()
    } finally {
      setUnder(false)
    }
  }
  return (
    <Dialog open={open} onClose={close} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="w-[30rem] bg-sheet p-6 shadow-xl">
          <DialogTitle className="text-head">{title}</DialogTitle>
          <div className="mt-3 text-data">{children}</div>
          <div className="mt-5 flex justify-end gap-3">
            <Button kind="quiet" disabled={under} onClick={close}>
              Not now
            </Button>
            <Button
              kind={danger ? 'danger' : 'filled'}
              disabled={waits}
              aria-busy={waits || undefined}
              onClick={() => confirm()}
            >
              {action}
            </Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
