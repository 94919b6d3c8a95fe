import fc from 'fast-check'

/** Something that the engine and the reference both work out. */
export interface Check {
  readonly name: string
  /** How many a full run compares. */
  readonly goal: number
  /** Throws where the two differ; counts what it compared. */
  readonly property: (count: () => void) => fc.IRawProperty<unknown>
}

export interface Outcome {
  readonly compared: number
  /** The smallest case that was found, in words; null when all agree. */
  readonly difference: string | null
}

/** Runs a check until `goal` things are compared or the time is over (a moment by the clock of this process). */
export function compare({ property }: Check, goal: number, seed: number, until: number): Outcome {
  let compared = 0
  for (let round = 0; compared < goal && Date.now() < until; round++) {
    const result = fc.check(
      property(() => {
        compared++
      }),
      {
        seed: seed + round,
        numRuns: 250,
        interruptAfterTimeLimit: Math.max(1, until - Date.now()),
        markInterruptAsFailure: false,
      },
    ) as fc.RunDetails<unknown>
    if (result.failed && result.counterexample)
      return {
        compared,
        difference: `seed ${seed + round}: ${String(result.errorInstance)}\n${fc.stringify(result.counterexample)}`,
      }
  }
  return { compared, difference: null }
}
