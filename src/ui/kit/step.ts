/** What is chosen is a step of its own, which Back goes back. */
export const aStep = { history: 'push' } as const

export interface Step {
  readonly history: 'push' | 'replace'
}

/** What is typed is one step from its first letter to its last, and taking it all away is another. */
export const typedStep = (before: string, after: string): Step =>
  (before === '') === (after === '') ? { history: 'replace' } : aStep
