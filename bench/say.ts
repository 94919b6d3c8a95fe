/**
 * Prints a figure, and before it how fast the machine ran when it was made: shared ones run at half their speed for
 * minutes.
 */
export function say(line: string): void {
  console.log(`[${pace().toFixed(2)}] ${line}`)
}

/**
 * Nanoseconds for one step of a chain of additions, the best of many short rounds: the first ones run as it is not
 * compiled yet.
 */
export function pace(): number {
  let best = Infinity
  for (let round = 0; round < 4000; round++) {
    const began = performance.now()
    const sum = chain(100_000)
    // The sum is used, so that the chain cannot be left out.
    if (Number.isInteger(sum)) best = Math.min(best, (performance.now() - began) / 0.1)
  }
  return best
}

function chain(steps: number): number {
  let sum = 0
  for (let i = 0; i < steps; i++) sum = (sum + i) | 0
  return sum
}
