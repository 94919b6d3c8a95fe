'use client'
import { createContext, useContext, useEffect, type ReactNode } from 'react'

/** Where words of a sentence say what they would become, before it is taken. */
export interface Trying {
  /** Runs a change of a rule on a copy of the draft; the draft stays as it is. */
  readonly attempt: (change: () => void) => void
  /** Nothing is tried any more. */
  readonly drop: () => void
  /** What the change would do to real orders. */
  readonly effect: ReactNode
}

/** Outside of the list of rules nothing is tried. */
export const Trying = createContext<Trying>({ attempt: () => {}, drop: () => {}, effect: null })

/** Tries what an editor would set, while it is typed or pointed at; what is tried ends with the editor. */
export function useTry(): (change: (() => void) | null) => void {
  const { attempt, drop } = useContext(Trying)
  useEffect(() => drop, [drop])
  return (change) => (change ? attempt(change) : drop())
}
