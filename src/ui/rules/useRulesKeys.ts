import type { RefObject } from 'react'
import { useKeys } from '../kit/useKeys'
import type { DraftEditor } from './useDraft'

/** Undo and redo of the draft, and the way to the search. */
export function useRulesKeys({ undo, redo }: DraftEditor, search: RefObject<HTMLInputElement | null>): void {
  const instead =
    (act: () => void) =>
    (event: KeyboardEvent): void => {
      event.preventDefault()
      act()
    }
  useKeys({
    'mod+z': instead(undo),
    'mod+Z': instead(redo),
    'mod+y': instead(redo),
    '/': instead(() => search.current?.focus()),
  })
}
