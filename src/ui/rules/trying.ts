'use client'
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import type { Rule, Rulebook } from '@/core/rulebook/language'

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

export interface Attempts {
  /** Puts a rule in the place of the one it was; within an attempt, only on a copy. */
  readonly replace: (next: Rule) => void
  readonly attempt: Trying['attempt']
  readonly drop: Trying['drop']
  /** The draft with what is tried; null when nothing is. */
  readonly tried: Rulebook | null
}

/** Holds what is tried of a draft that `change` would change for good. */
export function useAttempts(rulebook: Rulebook, change: (next: (before: Rulebook) => Rulebook) => void): Attempts {
  const [attempted, setAttempted] = useState<Rule | null>(null)
  const attempting = useRef(false)
  const attempt = useCallback((run: () => void) => {
    attempting.current = true
    try {
      run()
    } finally {
      attempting.current = false
    }
  }, [])
  const replace = useCallback(
    (next: Rule) => (attempting.current ? setAttempted(next) : change((before) => withRule(before, next))),
    [change],
  )
  const drop = useCallback(() => setAttempted(null), [])
  const tried = useMemo(() => attempted && withRule(rulebook, attempted), [rulebook, attempted])
  return { replace, attempt, drop, tried }
}

const withRule = (rulebook: Rulebook, next: Rule): Rulebook => ({
  ...rulebook,
  rules: rulebook.rules.map((rule) => (rule.id === next.id ? next : rule)),
})
