import { parseAsInteger, useQueryState } from 'nuqs'

/** What is chosen is a step of its own, which Back goes back. */
export const aStep = { history: 'push' } as const

/** What is typed is one step from its first letter to its last, and taking it all away is another. */
export const typedStep = (before: string, after: string): { readonly history: 'push' | 'replace' } =>
  (before === '') === (after === '') ? { history: 'replace' } : aStep

/** How many of a long list come before those that are shown. */
export const useSkip = () => useQueryState('skip', parseAsInteger.withDefault(0).withOptions(aStep))
