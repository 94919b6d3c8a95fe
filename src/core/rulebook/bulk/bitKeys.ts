/**
 * Numbers keys of so many words, in the order in which they are added, from 0 on. They are looked up for every order
 * and every stage: open addressing over flat arrays, which touches two places in memory.
 */
export interface BitKeys {
  /** The number of a key, which begins at `from`, else at 0; −1 when it was not added. */
  readonly find: (key: Int32Array, from?: number) => number
  /** Adds what `find` did not find. */
  readonly add: (key: Int32Array, from?: number) => number
  /** A word of the key of that number. */
  readonly wordOf: (number: number, word: number) => number
  readonly count: () => number
}

/** Numbers for keys of `words` 32-bit words each: equal keys have the same number, counted from 0. */
export function bitKeys(words: number): BitKeys {
  let count = 0
  /** For each place the number of a key and one more; 0 where there is none. */
  let table = new Int32Array(64)
  /** The keys, one after another. */
  let keys = new Int32Array(32 * words)

  return { find, add, wordOf: (number, word) => keys[number * words + word]!, count: () => count }

  // What a loop reads stands in names of its own: the engine reads those of the closure anew at each turn.
  function find(key: Int32Array, from = 0): number {
    const known = keys
    const places = table
    const width = words
    const last = places.length - 1
    search: for (let place = hashOf(key, from, width) & last; ; place = (place + 1) & last) {
      const number = places[place]! - 1
      if (number < 0) return -1
      for (let word = 0, at = number * width; word < width; word++)
        if (known[at++] !== key[from + word]) continue search
      return number
    }
  }

  function add(key: Int32Array, from = 0): number {
    if (2 * (count + 1) > table.length) grow()
    for (let word = 0; word < words; word++) keys[count * words + word] = key[from + word]!
    enter(count)
    return count++
  }

  function enter(number: number): void {
    const last = table.length - 1
    let place = hashOf(keys, number * words, words) & last
    while (table[place] !== 0) place = (place + 1) & last
    table[place] = number + 1
  }

  function grow(): void {
    table = new Int32Array(table.length * 2)
    keys = longer(keys, keys.length * 2)
    for (let number = 0; number < count; number++) enter(number)
  }
}

/** The same, and zeros behind. */
export function longer(old: Int32Array, length: number): Int32Array<ArrayBuffer> {
  const grown = new Int32Array(length)
  grown.set(old)
  return grown
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
