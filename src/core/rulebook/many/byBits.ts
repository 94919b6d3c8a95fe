/**
 * Things by the words of a key. They are looked up for every order and every stage: open addressing over flat arrays,
 * which touches two places in memory.
 */
export interface ByBits<T> {
  /** The key begins at `from`, else at 0. */
  readonly find: (key: Int32Array, from?: number) => T | undefined
  /** Adds what `find` did not find; gives it back. */
  readonly add: (key: Int32Array, thing: T, from?: number) => T
  /** A word of the key of the thing that was added as the so-manieth, from 0 on. */
  readonly wordOf: (number: number, word: number) => number
  /** In the order in which they were added. */
  readonly all: readonly T[]
}

export function byBits<T>(words: number): ByBits<T> {
  const all: T[] = []
  /** For each place the number of a thing and one more; 0 where there is none. */
  let table = new Int32Array(64)
  /** The keys of the things, one after another. */
  let keys = new Int32Array(32 * words)

  return { find, add, wordOf: (number, word) => keys[number * words + word]!, all }

  // What a loop reads stands in names of its own: the engine reads those of the closure anew at each turn.
  function find(key: Int32Array, from = 0): T | undefined {
    const known = keys
    const places = table
    const width = words
    const last = places.length - 1
    search: for (let place = hashOf(key, from, width) & last; ; place = (place + 1) & last) {
      const number = places[place]!
      if (number === 0) return undefined
      for (let word = 0, at = (number - 1) * width; word < width; word++) if (known[at++] !== key[from + word]) continue search
      return all[number - 1]!
    }
  }

  function add(key: Int32Array, thing: T, from = 0): T {
    if (2 * (all.length + 1) > table.length) grow()
    for (let word = 0; word < words; word++) keys[all.length * words + word] = key[from + word]!
    all.push(thing)
    enter(all.length)
    return thing
  }

  function enter(number: number): void {
    const last = table.length - 1
    let place = hashOf(keys, (number - 1) * words, words) & last
    while (table[place] !== 0) place = (place + 1) & last
    table[place] = number
  }

  function grow(): void {
    table = new Int32Array(table.length * 2)
    const longer = new Int32Array(keys.length * 2)
    longer.set(keys)
    keys = longer
    for (let number = 1; number <= all.length; number++) enter(number)
  }
}

function hashOf(bits: Int32Array, from: number, words: number): number {
  let hash = 0
  for (let at = from; at < from + words; at++) {
    hash = Math.imul(hash ^ bits[at]!, 0x9e3779b1)
    // A product's lower bits know nothing of the higher ones.
    hash ^= hash >>> 15
  }
  return hash
}
