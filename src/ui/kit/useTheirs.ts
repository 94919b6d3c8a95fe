'use client'
import { useState } from 'react'

/** Whether somebody else has changed what is edited here since the editing began. */
export interface Theirs {
  readonly changed: boolean
  /** Goes on from theirs as known: what is saved here then replaces it, knowingly. */
  readonly know: () => void
}

/**
 * What an edit began from stays the measure while it lasts, whatever is fetched meanwhile. `saved` is what the server
 * has of the thing `id`, as text; while nothing is `editing`, it is followed.
 */
export function useTheirs(id: string, saved: string, editing: boolean): Theirs {
  const [began, setBegan] = useState({ id, saved })
  const other = began.id !== id
  if (other || (!editing && began.saved !== saved)) setBegan({ id, saved })
  return { changed: editing && !other && began.saved !== saved, know: () => setBegan({ id, saved }) }
}
