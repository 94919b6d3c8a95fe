import { useRef } from 'react'
import { Button } from './Button'
import { count } from './format'

interface Props {
  /** How many come before those that are shown, how many are shown at once, and how many there are. */
  readonly skip: number
  readonly size: number
  readonly total: number
  readonly onSkip: (skip: number) => unknown
}

/** Leads through the list before it page by page; nothing is there while one page holds it all. */
export function Pager({ skip, size, total, onSkip }: Props) {
  const line = useRef<HTMLParagraphElement>(null)
  if (skip === 0 && total <= size) return null
  const go = (next: number): void => {
    onSkip(next)
    // Another page is read from its beginning.
    line.current?.previousElementSibling?.scrollIntoView({ block: 'start' })
  }
  return (
    <p ref={line} className="flex items-center gap-3 px-5 py-2">
      <Button kind="quiet" disabled={skip === 0} onClick={() => go(Math.max(0, Math.min(skip, total) - size))}>
        Previous
      </Button>
      <span className="text-soft">
        {skip < total
          ? `${count(skip + 1)} to ${count(Math.min(total, skip + size))} of ${count(total)}`
          : `There are ${count(total)} in all`}
      </span>
      <Button kind="quiet" disabled={total <= skip + size} onClick={() => go(skip + size)}>
        Next
      </Button>
    </p>
  )
}
