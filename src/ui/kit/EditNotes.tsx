'use client'
import { Resumed } from './Resumed'
import { TheirChange } from './TheirChange'
import type { Edit } from './useEdit'

interface Props<T> {
  readonly edit: Edit<T>
  /** What is edited, as a sentence names it. */
  readonly what: string
  /** Both as a person reads them, line by line. */
  readonly mine: readonly string[]
  readonly theirs: readonly string[]
  /** Instead of only putting the edit back. */
  readonly onDrop?: () => void
}

/**
 * What has to be said above an edit: that it was begun before, and that somebody else has changed the same meanwhile.
 */
export function EditNotes<T>({ edit, what, mine, theirs, onDrop = edit.drop }: Props<T>) {
  return (
    <>
      <Resumed edit={edit} onDrop={onDrop} />
      {edit.overtaken && <TheirChange {...{ what, mine, theirs }} onTake={onDrop} onKeep={edit.know} />}
    </>
  )
}
