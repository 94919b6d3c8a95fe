'use client'
import { useMemo, useSyncExternalStore } from 'react'
import { type HalfDone, halfDone, isResumed, onHalfDone, writeHalfDone } from './halfDone'

/** An edit of one thing, which outlives the page until it is saved or put back. */
export interface Edit<T> {
  /** What is typed, or else what is saved. */
  readonly value: T
  readonly editing: boolean
  /** When it was typed in last, if that was before this page was opened. */
  readonly resumed: string | null
  /** Types; what is as it was saved is no edit. */
  readonly put: (next: T) => void
  /** Ends the edit: it was saved, or is put back. */
  readonly drop: () => void
  /**
   * Whether somebody else has changed the same since this edit began: what an edit began from stays its measure,
   * whatever is fetched meanwhile.
   */
  readonly overtaken: boolean
  /** Goes on from theirs as known: what is saved here then replaces it, knowingly. */
  readonly know: () => void
}

/** The edit of the thing `id`, of which the server has `saved`. Plain JSON only. */
export function useEdit<T>(id: string, saved: T): Edit<T> {
  const savedText = JSON.stringify(saved) ?? ''
  // What is saved by now is no edit any more, though the page was left before it could be dropped.
  const isOpen = (found: HalfDone | undefined): found is HalfDone =>
    found !== undefined && JSON.stringify(found.value) !== savedText
  const found = useHalfDone().get(id)
  const half = isOpen(found) ? found : null
  const write = (began: string, value: T): void => writeHalfDone(id, { began, value, at: new Date().toISOString() })
  return {
    value: half ? (half.value as T) : saved,
    editing: half !== null,
    resumed: half && isResumed(id) ? half.at : null,
    put: (next) => {
      const now = halfDone().get(id)
      if (JSON.stringify(next) === savedText) writeHalfDone(id, null)
      else write(isOpen(now) ? now.began : savedText, next)
    },
    drop: () => writeHalfDone(id, null),
    overtaken: half !== null && half.began !== savedText,
    know: () => half && write(savedText, half.value as T),
  }
}

/** Begins an edit of something that the server does not have yet. */
export const beginEdit = (id: string, value: unknown): void =>
  writeHalfDone(id, { began: '', value, at: new Date().toISOString() })

/** The edits that are not saved yet of all things whose identifier begins so, by the rest of it. */
export function useEdits(start: string): ReadonlyMap<string, unknown> {
  const all = useHalfDone()
  return useMemo(
    () =>
      new Map(
        [...all].filter(([id]) => id.startsWith(start)).map(([id, { value }]) => [id.slice(start.length), value]),
      ),
    [all, start],
  )
}

const none: ReadonlyMap<string, HalfDone> = new Map()

export const useHalfDone = (): ReadonlyMap<string, HalfDone> => useSyncExternalStore(onHalfDone, halfDone, () => none)
