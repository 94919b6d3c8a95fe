'use client'
import { X } from 'lucide-react'
import { useRef, type ReactNode, type RefObject } from 'react'

/** What is open beside a list, under a head of its own; Escape within it closes it. */
export function Beside({
  label,
  title,
  onClose,
  ref,
  children,
}: {
  /** What it is, for readers. */
  label: string
  title: string
  onClose: () => void
  ref?: RefObject<HTMLElement | null>
  children: ReactNode
}) {
  const own = useRef<HTMLElement>(null)
  const panel = ref ?? own
  return (
    <aside
      ref={panel}
      aria-label={label}
      className="beside"
      onKeyDown={(event) => {
        // Not from a question or a list that is open above it.
        if (event.key === 'Escape' && panel.current?.contains(event.target as Node)) onClose()
      }}
    >
      <header className="flex items-center border-b border-hair px-4 py-3">
        <h2 className="text-lead">{title}</h2>
        <button aria-label="Close" className="ml-auto grid size-6 place-items-center hover:text-act" onClick={onClose}>
          <X className="size-4" />
        </button>
      </header>
      {children}
    </aside>
  )
}
