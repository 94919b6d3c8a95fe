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
 * has, as text; while nothing is `editing`, it is followed.
 */
export function useTheirs(saved: string, editing: boolean): Theirs {
  const [began, setBegan] = useState(saved)
  if (!editing && began !== saved) setBegan(saved)
  return { changed: editing && began !== saved, know: () => setBegan(saved) }
}
