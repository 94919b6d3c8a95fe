import type { Decisions } from '@/core/rulebook/language'
import { bitKeys } from './bitKeys'

/** Decisions by the numbers of what they follow from: equal ones are one object. */
export interface KeptDecisions {
  /** The numbers, to be written before each of the calls below. */
  readonly key: Int32Array
  /** What is known by the key. */
  readonly find: () => Decisions | undefined
  /** Keeps what `find` did not find. */
  readonly keep: (made: Decisions) => Decisions
}

// Past this many they are let go and made again.
const maxDecisions = 50_000

/** Keeps decisions by so many numbers. */
export function keptDecisions(numbers: number): KeptDecisions {
  const key = new Int32Array(numbers)
  let known = bitKeys(numbers)
  const decisions: Decisions[] = []
  return {
    key,
    find: () => {
      const number = known.find(key)
      return number >= 0 ? decisions[number] : undefined
    },
    keep: (made) => {
      if (known.count() === maxDecisions) {
        known = bitKeys(numbers)
        decisions.length = 0
      }
      known.add(key)
      decisions.push(made)
      return made
    },
  }
}
