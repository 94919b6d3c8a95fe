'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { usePathname, useSearchParams } from 'next/navigation'

/** Leads back to signing in, and from there to where one is. */
export function SignedOutDialog() {
  const path = usePathname()
  const search = useSearchParams().toString()
  const to = search ? `${path}?${search}` : path
  return (
    <Dialog open onClose={() => undefined} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="w-[26rem] bg-sheet p-6 shadow-xl">
          <DialogTitle className="text-head">You are signed out</DialogTitle>
          <p className="mt-3">What you typed is kept in this browser, and is offered again when you are back.</p>
          <p className="mt-5">
            <a
              autoFocus
              className="inline-flex rounded-[3px] bg-act px-3.5 py-1.5 font-semibold text-on-act hover:opacity-90"
              href={`/sign-in?to=${encodeURIComponent(to)}`}
            >
              Sign in again
            </a>
          </p>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
