'use client'
import { Search } from 'lucide-react'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { useKeys } from '../kit/useKeys'

// Nobody waits for it before it is asked for.
const FindBox = dynamic(() => import('./FindBox').then((module) => module.FindBox), { ssr: false })

/** The way to everything, on every screen: a button on the line, and Ctrl K. */
export function Find() {
  const [open, setOpen] = useState(false)
  useKeys({
    'mod+k': (event) => {
      event.preventDefault()
      setOpen(true)
    },
  })
  return (
    <>
      <button
        className="ml-1 flex min-h-[24px] items-center rounded-[3px] px-2 py-1 text-soft hover:text-act max-[899px]:px-1"
        title="Find anything (Ctrl K)"
        aria-keyshortcuts="Control+K"
        onClick={() => setOpen(true)}
      >
        <Search className="size-4.5" aria-hidden />
        <span className="sr-only">Find anything</span>
      </button>
      {open && <FindBox onClose={() => setOpen(false)} />}
    </>
  )
}
