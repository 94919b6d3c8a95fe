'use client'
import type { Edit } from './useEdit'
import { Button } from './Button'
import { When } from './When'

/** Says that what is shown was typed before, and is not saved yet. */
export function Resumed({ edit, onDrop }: { edit: Pick<Edit<unknown>, 'resumed' | 'drop'>; onDrop?: () => void }) {
  if (edit.resumed === null) return null
  return (
    <p role="status" className="flex flex-wrap items-center gap-2 bg-wait-soft px-3 py-1 text-wait">
      You typed this <When at={edit.resumed} />, and it is not saved yet.
      <Button kind="quiet" onClick={onDrop ?? edit.drop}>
        Forget it
      </Button>
    </p>
  )
}
