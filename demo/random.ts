/** A seeded source of numbers (splitmix32): the same seed gives the same sequence on every machine. */
export interface Random {
  /** At least 0, below 1. */
  readonly next: () => number
  readonly below: (n: number) => number
  readonly pick: <T>(list: readonly T[]) => T
  /** One of `[value, weight]` pairs. */
  readonly weighted: <T>(list: readonly (readonly [T, number])[]) => T
  readonly chance: (share: number) => boolean
}

export function seeded(seed: number): Random {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x9e3779b9) >>> 0
    let z = state
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad)
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97)
    return ((z ^ (z >>> 15)) >>> 0) / 4294967296
  }
  const below = (n: number): number => Math.floor(next() * n)
  return {
    next,
    below,
    pick: (list) => list[below(list.length)]!,
    chance: (share) => next() < share,
    weighted: (list) => {
      let at = next() * list.reduce((sum, [, weight]) => sum + weight, 0)
      for (const [value, weight] of list) if ((at -= weight) < 0) return value
      return list[list.length - 1]![0]
    },
  }
}
